/** ./oak sbom: a CycloneDX bill of materials of what the product runs on, by npm itself from the lock
 * file. */
import { spawn } from 'node:child_process'

/** What npm is asked. */
export const SBOM_ARGS = [
  'sbom',
  '--sbom-format',
  'cyclonedx',
  '--sbom-type',
  'application',
  '--omit',
  'dev',
  '--package-lock-only',
]

/** What only builds and tests is left out. @returns its exit code */
export function sbom(): Promise<number> {
  const child = spawn('npm', SBOM_ARGS, { stdio: ['ignore', 'inherit', 'inherit'] })
  return new Promise((resolve) => child.once('close', (code) => resolve(code ?? 1)))
}

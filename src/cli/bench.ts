/** ./oak bench [NAME]: measures, and prints each figure beside its bound. */
import { spawnSync } from 'node:child_process'
import { readdirSync } from 'node:fs'
import { join } from 'node:path'
import { build } from 'esbuild'
import { CliProblem, type Options } from './options'

/** Parts that the measurements share. */
const SHARED = [
  'health',
  'attacks',
  'kills',
  'memory',
  'ledger',
  'live-person',
  'product',
  'protocol',
  'report',
  'screens',
]

export async function bench({ rest }: Options): Promise<number> {
  const there = readdirSync('bench').flatMap((file) =>
    file.endsWith('.ts') && !SHARED.includes(file.slice(0, -3)) ? [file.slice(0, -3)] : [],
  )
  // "run" is all of run-…
  const named = (name: string) => there.filter((one) => one === name || one.startsWith(`${name}-`))
  const unknown = rest.find((name) => named(name).length === 0)
  if (unknown) throw new CliProblem(`there is no measurement “${unknown}”; there is: ${there.join(', ')}`)
  let failed = 0
  for (const name of rest.length > 0 ? rest.flatMap(named) : there) {
    console.log(`\n${name}`)
    const outfile = join('build', 'bench', `${name}.mjs`)
    await build({
      bundle: true,
      platform: 'node',
      target: 'node20',
      format: 'esm',
      packages: 'external',
      alias: { '@': join(process.cwd(), 'src') },
      logLevel: 'warning',
      entryPoints: [join('bench', `${name}.ts`)],
      outfile,
    })
    if (spawnSync(process.execPath, [outfile], { stdio: 'inherit' }).status !== 0) failed++
  }
  return failed === 0 ? 0 : 1
}

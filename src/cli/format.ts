/** ./oak format: every file as the formatter writes it. */
import { spawnSync } from 'node:child_process'
import { join } from 'node:path'

/** `oak` has no ending that a formatter knows. */
export const FORMATTED = ['.', 'oak']
export const PRETTIER = join('node_modules', 'prettier', 'bin', 'prettier.cjs')

export function format(): number {
  const args = [PRETTIER, '--write', '--log-level', 'warn', ...FORMATTED]
  return spawnSync(process.execPath, args, { stdio: 'inherit' }).status ?? 1
}

/** Newer versions of Node.js, for `./oak test node`: fetched once, each into a folder of its own. */
import { spawnSync } from 'node:child_process'
import { existsSync, mkdirSync } from 'node:fs'
import { join } from 'node:path'
import { CliProblem } from './options'

/** Long-term ones that are served, and the newest; the version that runs the tests is there anyway. */
export const NODE_VERSIONS = [22, 24, 26] as const

/** @returns the program
 * @throws {CliProblem} where there is none for this system, or it could not be fetched */
export function nodeProgram(version: number, home: string): string {
  const folder = join(home, `node-${version}`)
  const name = `node-${process.platform}-${process.arch}`
  const program = join(folder, 'node_modules', name, 'bin', 'node')
  if (existsSync(program)) return program
  mkdirSync(folder, { recursive: true })
  const args = ['install', '--prefix', folder, '--no-save', '--no-audit', '--no-fund', `${name}@${version}`]
  const { status, stderr } = spawnSync('npm', args, { encoding: 'utf8' })
  if (status !== 0 || !existsSync(program))
    throw new CliProblem(`Node.js ${version} could not be fetched: ${stderr.trim().split('\n').at(-1) ?? ''}`)
  return program
}

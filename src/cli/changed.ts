/** What a change touches: files that differ from the last commit, or, when none does, the files of that
 * commit. */
import { spawnSync } from 'node:child_process'
import { existsSync } from 'node:fs'
import { CliProblem } from './options'

/** @returns files that are there now, by their paths from the project's folder
 * @throws {CliProblem} where there is no git */
export function changedFiles(): string[] {
  const open = [...git('diff', '--name-only', 'HEAD'), ...git('ls-files', '--others', '--exclude-standard')]
  const files = open.length > 0 ? open : git('diff', '--name-only', 'HEAD~1', 'HEAD')
  return [...new Set(files)].filter((file) => existsSync(file)).sort()
}

function git(...args: string[]): string[] {
  const { status, stdout, stderr } = spawnSync('git', args, { encoding: 'utf8' })
  if (status !== 0) throw new CliProblem(`git does not say what changed: ${stderr.trim()}`)
  return stdout.split('\n').filter(Boolean)
}

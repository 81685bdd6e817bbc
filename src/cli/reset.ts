import { existsSync, readFileSync, rmSync } from 'node:fs'
import { join } from 'node:path'
import { CliProblem, type Options } from './options'
import { removePostgres } from './postgres'
import { isAlive } from './start'

/** What a start makes. Anything else somebody keeps in the folder stays. */
const MADE = [
  'evidence',
  'demo',
  'repositories',
  'logs',
  'postgres-password',
  'agent-token',
  'cookie-secret',
  'running',
]

/** ./oak reset: the next start makes a fresh demo. */
export async function reset({ home, databaseUrl }: Options): Promise<number> {
  const lock = join(home, 'running')
  if (existsSync(lock) && isAlive(Number(readFileSync(lock, 'utf8'))))
    throw new CliProblem('it is running; stop it first (Ctrl-C where it was started)')
  if (databaseUrl)
    throw new CliProblem(
      'DATABASE_URL is set: we do not empty a database of yours. Drop it yourself, or unset ' +
        'DATABASE_URL to reset our own',
    )
  removePostgres(home)
  for (const name of MADE) rmSync(join(home, name), { recursive: true, force: true })
  console.log(
    `The data in ${home} is gone: runs, defects, evidence, people. The next ./oak start makes a fresh demo.`,
  )
  return 0
}

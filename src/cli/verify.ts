/** ./oak verify audit: is the audit trail what it was sealed as? */
import { spawnSync } from 'node:child_process'
import { existsSync, readFileSync } from 'node:fs'
import { join } from 'node:path'
import { CliProblem, type Options } from './options'
import { isPostgresRunning, startPostgres } from './postgres'

/** @returns 0 when it is, 1 when not */
export async function verify({ rest, home, databaseUrl, expect }: Options): Promise<number> {
  if (rest[0] !== 'audit') throw new CliProblem('verify wants to know what: ./oak verify audit')
  const file = join(home, 'cookie-secret')
  const secret = process.env.OAK_SECRET ?? (existsSync(file) ? readFileSync(file, 'utf8') : undefined)
  if (!secret) throw new CliProblem(`there is no installation in ${home}; set OAK_HOME to its folder`)
  const wasRunning = !databaseUrl && isPostgresRunning(home)
  const own = databaseUrl ? undefined : await startPostgres(home)
  try {
    const env = { ...process.env, DATABASE_URL: databaseUrl ?? own!.url, OAK_SECRET: secret, OAK_HOME: home }
    const args = ['build/verify.mjs', ...(expect === undefined ? [] : [expect])]
    return spawnSync(process.execPath, args, { env, stdio: ['ignore', 'inherit', 'inherit'] }).status ?? 1
  } finally {
    if (!wasRunning) own?.stop()
  }
}

/** Programs of the product that work on the database of an installation, whether it runs or not. */
import { spawn } from 'node:child_process'
import { existsSync, readFileSync } from 'node:fs'
import { join } from 'node:path'
import { CliProblem, type Options } from './options'
import { isPostgresRunning, startPostgres } from './postgres'

/** @param program its name in `build`
 * @returns its exit code @throws {CliProblem} there is no installation */
export async function runOnDatabase(
  { home, databaseUrl }: Options,
  program: string,
  args: readonly string[],
): Promise<number> {
  const file = join(home, 'cookie-secret')
  const secret = process.env.OAK_SECRET ?? (existsSync(file) ? readFileSync(file, 'utf8') : undefined)
  if (!secret) throw new CliProblem(`there is no installation in ${home}; set OAK_HOME to its folder`)
  const wasRunning = !databaseUrl && isPostgresRunning(home)
  const own = databaseUrl ? undefined : await startPostgres(home)
  // It hears Ctrl-C as we do, and ends in its own way.
  const stay = () => {}
  process.on('SIGINT', stay)
  try {
    const env = { ...process.env, DATABASE_URL: databaseUrl ?? own!.url, OAK_SECRET: secret, OAK_HOME: home }
    const child = spawn(process.execPath, [`build/${program}.mjs`, ...args], {
      env,
      stdio: ['ignore', 'inherit', 'inherit'],
    })
    return await new Promise<number>((resolve) => child.once('exit', (code) => resolve(code ?? 1)))
  } finally {
    process.off('SIGINT', stay)
    if (!wasRunning) own?.stop()
  }
}

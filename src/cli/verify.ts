/** ./oak verify: is the audit trail, or an evidence document, what it was sealed as? */
import { createHash } from 'node:crypto'
import { spawnSync } from 'node:child_process'
import { existsSync, readFileSync, statSync } from 'node:fs'
import { join } from 'node:path'
import { verdictOn } from '@/core/reports'
import { CliProblem, type Options } from './options'
import { isPostgresRunning, startPostgres } from './postgres'

/** @returns 0 when it is, 1 when not */
export async function verify(options: Options): Promise<number> {
  const [what, ...more] = options.rest
  if (what === undefined || more.length > 0)
    throw new CliProblem('verify wants to know what: ./oak verify audit, or ./oak verify FILE')
  return what === 'audit' ? verifyAudit(options) : verifyDocument(what, options.expect)
}

/** A document is larger by what no file has that was made here. */
const BYTES_MOST = 100_000_000

function verifyDocument(file: string, expected: string | undefined): number {
  if (!existsSync(file)) throw new CliProblem(`there is no file ${file}`)
  if (statSync(file).size > BYTES_MOST) throw new CliProblem(`${file} is too large for an evidence document`)
  const verdict = verdictOn(
    readFileSync(file, 'utf8'),
    (of) => createHash('sha256').update(of).digest('hex'),
    (base64) => Buffer.from(base64, 'base64'),
  )
  if (!verdict.sound) console.error(`error: ${file}: ${verdict.why}`)
  else if (expected !== undefined && expected !== verdict.hash)
    console.error(`error: ${file}: it is sound, and another one: its hash is ${verdict.hash}`)
  else {
    console.log(
      `${file} is as it was made, with ${verdict.pieces} pictures; its hash is ${verdict.hash}. The audit trail of the installation holds it too: document.make`,
    )
    return 0
  }
  return 1
}

async function verifyAudit({ home, databaseUrl, expect }: Options): Promise<number> {
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

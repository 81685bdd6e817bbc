/** ./oak verify: is the audit trail, or an evidence document, what it was sealed as? */
import { createHash } from 'node:crypto'
import { existsSync, readFileSync, statSync } from 'node:fs'
import { verdictOn } from '@/core/reports'
import { CliProblem, type Options } from './options'
import { runOnDatabase } from './on-database'

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
      `${file} is as it was made, with ${verdict.pieces} pictures; its hash is ${verdict.hash}. The ` +
        'audit trail of the installation holds it too: document.make, of a release sheet release.sign',
    )
    return 0
  }
  return 1
}

const verifyAudit = (options: Options): Promise<number> =>
  runOnDatabase(options, 'verify', options.expect === undefined ? [] : [options.expect])

/** The chain of the audit trail: each line is sealed with the hash of the line before it (HMAC-SHA256 under
 * the installation's secret), so that none can be changed, taken out or put in without `verify` finding it.
 * */
import { createHmac } from 'node:crypto'
import { countUnsealed, lastSealed, sealedFrom, sealLines, unsealedLines } from '@/db/audit'
import { secret, type Context } from '../context'

const START = 'the first line'
const AT_ONCE = 500

const hashOf = (before: string, seal: number, content: string): string =>
  createHmac('sha256', `audit ${secret()}`).update(`${before}\n${seal}\n${content}`).digest('hex')

/** Seals what was noted since. Safe with any number of processes. @returns how many lines */
export async function sealAudit(ctx: Pick<Context, 'db'>): Promise<number> {
  return ctx.db.transaction(async (tx) => {
    const lines = await unsealedLines(tx, AT_ONCE)
    let { seal, hash } = (await lastSealed(tx)) ?? { seal: 0, hash: START }
    const sealed = lines.map(({ id, content }) => {
      hash = hashOf(hash, ++seal, content)
      return { id, seal, hash }
    })
    await sealLines(tx, sealed)
    return lines.length
  })
}

/** The end of the chain, to be noted where the database does not reach. */
export const auditHead = (ctx: Pick<Context, 'db'>) => lastSealed(ctx.db)

/** `head`: the hash of the last line, by which somebody who noted it elsewhere sees that nothing was cut off
 * at the end. */
export type Verified = { lines: number; head: string; unsealed: number } & (
  { sound: true } | { sound: false; seal: number; why: string }
)

export async function verifyAudit(ctx: Pick<Context, 'db'>): Promise<Verified> {
  let lines = 0
  let head = START
  for (;;) {
    const part = await sealedFrom(ctx.db, lines, AT_ONCE)
    for (const { seal, hash, content } of part) {
      const facts = { lines, head, unsealed: 0, sound: false as const, seal: lines + 1 }
      if (seal !== lines + 1) return { ...facts, why: `line ${lines + 1} is missing` }
      if (hash !== hashOf(head, seal, content))
        return { ...facts, why: `line ${seal} is not what was sealed` }
      head = hash
      lines = seal
    }
    if (part.length < AT_ONCE) return { lines, head, unsealed: await countUnsealed(ctx.db), sound: true }
  }
}

/** How long evidence is kept: the workspace says it, a rotation may say otherwise for its runs. */
import { EVIDENCE_KINDS, keepDays, type EvidenceKind } from '@/core/model'
import { note } from '@/db/audit'
import { dropKind, dropMarked, markUnused } from '@/db/evidence'
import { notify } from '@/db/notify'
import { putSetting, setting } from '@/db/settings'
import type { Context } from '../context'
import { validatorOf } from '../http/validator'

const NAME = 'retention'
const AT_ONCE = 500
/** An agent that was cut off may still have to say where it used what it has sent. */
export const GRACE_MS = 7 * 86_400_000

/** Days by kind; what is absent is kept for ever. */
export type Retention = Partial<Record<EvidenceKind, number>>
export const retentionBody = validatorOf<Retention>()({
  type: 'object',
  additionalProperties: false,
  properties: { screens: keepDays, video: keepDays, console: keepDays, network: keepDays },
})

export const retention = async (ctx: Pick<Context, 'db'>): Promise<Retention> =>
  (await setting<Retention>(ctx.db, NAME)) ?? {}
export async function putRetention(ctx: Context, days: Retention, who: string): Promise<void> {
  await ctx.db.transaction(async (tx) => {
    await putSetting(tx, NAME, days)
    await note(tx, who, 'retention.put', NAME, days)
  })
  await notify(ctx.db, 'settings')
}

/** Deletes evidence whose time is over, then the files that nothing shows any more. Any number of workers may
 * do it at once.
 * @returns how many attempts lost some, and how many files went */
export async function dropOldEvidence(ctx: Context): Promise<{ attempts: number; files: number }> {
  const days = await retention(ctx)
  const dropped = { attempts: 0, files: 0 }
  for (const kind of EVIDENCE_KINDS)
    dropped.attempts += await untilFew(() =>
      ctx.db.transaction((tx) => dropKind(tx, kind, days[kind], ctx.now, AT_ONCE)),
    )
  dropped.files = await untilFew(() => dropUnused(ctx))
  return dropped
}

/** Deletes files that nothing shows, outside of any transaction: no statement waits for a disk. An agent may
 * bring a piece again at any moment between; then its file comes back. Whoever falls between leaves marked
 * rows, which the next one takes up. */
async function dropUnused({ db, evidence, now }: Context): Promise<number> {
  const hashes = await markUnused(db, now, GRACE_MS, AT_ONCE)
  for (const hash of hashes) await evidence.putAside(hash)
  const back = new Set(await dropMarked(db, hashes))
  for (const hash of hashes) await (back.has(hash) ? evidence.bringBack(hash) : evidence.drop(hash))
  return hashes.length - back.size
}

async function untilFew(some: () => Promise<number>): Promise<number> {
  let all = 0
  for (;;) {
    const n = await some()
    all += n
    if (n < AT_ONCE) return all
  }
}

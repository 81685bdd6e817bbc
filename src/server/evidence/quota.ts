/** How much evidence there may be. It is said before it is reached; then agents keep theirs until there is
 * room again. */
import { note } from '@/db/audit'
import { evidenceSize } from '@/db/evidence'
import { notify } from '@/db/notify'
import { putSetting, setting } from '@/db/settings'
import type { Context } from '../context'
import { Problem } from '../http/problems'
import { validator, type BodyOf } from '../http/validator'

const NAME = 'evidence-quota'
const GB = 1e9
/** The share at which people are told. */
const WARN_SHARE = 0.8
/** The sum is not made anew for each piece: so much more may come. */
const KNOWN_MS = 20_000

export const quotaBody = validator({
  type: 'object',
  additionalProperties: false,
  required: ['gigabytes'],
  properties: { gigabytes: { type: ['number', 'null'], exclusiveMinimum: 0, maximum: 1_000_000 } },
})
export type QuotaRequest = BodyOf<typeof quotaBody>

type Parts = Pick<Context, 'db'>

/** @returns gigabytes (10⁹ bytes); `null`: as much as there is room for */
export const quota = async (ctx: Parts): Promise<number | null> =>
  (await setting<QuotaRequest>(ctx.db, NAME))?.gigabytes ?? null

export async function putQuota(ctx: Context, request: QuotaRequest, who: string): Promise<void> {
  await ctx.db.transaction(async (tx) => {
    await putSetting(tx, NAME, request)
    await note(tx, who, 'quota.put', NAME, request)
  })
  known.delete(ctx.db)
  await notify(ctx.db, 'settings')
}

/** @returns the share that is used, from the one at which people are told; `undefined`: less, or no quota */
export async function quotaWarning(ctx: Parts): Promise<number | undefined> {
  const gigabytes = await quota(ctx)
  if (gigabytes === null) return undefined
  const share = (await evidenceSize(ctx.db)).bytes / (gigabytes * GB)
  return share >= WARN_SHARE ? share : undefined
}

const known = new WeakMap<Context['db'], { until: number; isFull: Promise<boolean> }>()

/** @throws {Problem} STORE_FULL, for which an agent keeps its piece and tries again */
export async function refuseOverQuota(ctx: Parts): Promise<void> {
  const now = performance.now()
  let answer = known.get(ctx.db)
  if (!answer || answer.until < now) {
    answer = { until: now + KNOWN_MS, isFull: isFull(ctx) }
    answer.isFull.catch(() => known.delete(ctx.db))
    known.set(ctx.db, answer)
  }
  if (await answer.isFull)
    throw new Problem(
      'STORE_FULL',
      'There is as much evidence as may be kept. Agents keep theirs and send it when there is room: ' +
        'allow more, or keep it for fewer days, under Settings, Retention.',
    )
}

async function isFull(ctx: Parts): Promise<boolean> {
  const gigabytes = await quota(ctx)
  return gigabytes !== null && (await evidenceSize(ctx.db)).bytes >= gigabytes * GB
}

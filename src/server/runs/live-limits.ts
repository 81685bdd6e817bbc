/** How many live sessions may go on at once, in all and by pool: an administrator sets it. */
import { LIVE_LIMIT_MOST, placeForLive, STANDARD_LIVE_LIMITS, type LiveLimits } from '@/core/live'
import { listAgents } from '@/db/agents'
import type { Tx } from '@/db/client'
import { note } from '@/db/audit'
import { notify } from '@/db/notify'
import { liveRunsByPool, lockLiveStarts } from '@/db/runs'
import { putSetting, setting } from '@/db/settings'
import type { Context } from '../context'
import { Problem } from '../http/problems'
import { validatorOf } from '../http/validator'

const NAME = 'live-limits'
const POOLS_MOST = 500
const count = { type: 'integer', minimum: 0, maximum: LIVE_LIMIT_MOST } as const

export const liveLimitsBody = validatorOf<LiveLimits>()({
  type: 'object',
  additionalProperties: false,
  required: ['all', 'pools'],
  properties: {
    all: count,
    pools: {
      type: 'object',
      required: [],
      maxProperties: POOLS_MOST,
      propertyNames: { type: 'string', minLength: 1, maxLength: 200 },
      additionalProperties: count,
    },
  },
})

export const liveLimits = async ({ db }: Pick<Context, 'db'>): Promise<LiveLimits> =>
  (await setting<LiveLimits>(db, NAME)) ?? STANDARD_LIVE_LIMITS

export async function putLiveLimits(ctx: Context, limits: LiveLimits, who: string): Promise<void> {
  await ctx.db.transaction(async (tx) => {
    await putSetting(tx, NAME, limits)
    await note(tx, who, 'live-limits.put', NAME, limits)
  })
  await notify(ctx.db, 'settings')
}

/** The pool a new session has to be in, where pools of its environment have limits.
 * @throws {Problem} BUSY */
export async function poolForLive(
  { db, leaseMs }: Pick<Context, 'db' | 'leaseMs'>,
  environment: string,
): Promise<string | undefined> {
  const [limits, used, agents] = await Promise.all([
    liveLimits({ db }),
    liveRunsByPool(db),
    listAgents(db, leaseMs),
  ])
  const free = new Map<string, number>()
  for (const { pool, environments, alive, draining, seats, work } of agents)
    if (alive && !draining && environments.includes(environment))
      free.set(pool, (free.get(pool) ?? 0) + Math.max(0, seats - work.length))
  const place = placeForLive(
    limits,
    used,
    [...free].map(([pool, seats]) => ({ pool, free: seats })),
  )
  if (place.is === 'full') throw new Problem('BUSY', `${place.why} Wait until one is over.`)
  return place.is === 'in' ? place.pool : undefined
}

/** In the transaction that begins a session: whoever begins one at the same moment waits, and counts it.
 * @param pool it has to be in, where pools have limits
 * @throws {Problem} BUSY: the last place was taken meanwhile */
export async function holdLivePlace(tx: Tx, pool: string | undefined): Promise<void> {
  await lockLiveStarts(tx)
  const [limits, used] = [await liveLimits({ db: tx }), await liveRunsByPool(tx)]
  const place = placeForLive(limits, used, pool === undefined ? [] : [{ pool, free: 1 }])
  if (place.is === 'full') throw new Problem('BUSY', `${place.why} Wait until one is over.`)
}

/** How many live sessions may go on at once: each holds a seat that runs may want. */

/** `pools`: of these so many at the most; the others share what is left of `all`. */
export type LiveLimits = { all: number; pools: Record<string, number> }

export const LIVE_LIMIT_MOST = 100
export const STANDARD_LIVE_LIMITS: LiveLimits = { all: 12, pools: {} }

/** Where a new session may begin. `anywhere`: no pool that serves it has a limit. */
export type LivePlace = { is: 'anywhere' } | { is: 'in'; pool: string } | { is: 'full'; why: string }

/** @param used sessions that go on, by pool
 * @param serving pools with an agent that serves the environment, with the seats that are free there */
export function placeForLive(
  { all, pools }: LiveLimits,
  used: Readonly<Record<string, number>>,
  serving: readonly { pool: string; free: number }[],
): LivePlace {
  const inAll = Object.values(used).reduce((sum, one) => sum + one, 0)
  if (inAll >= all)
    return { is: 'full', why: `${inAll} live sessions go on, which is all there may be at once.` }
  const limitOf = (pool: string) => (Object.hasOwn(pools, pool) ? pools[pool]! : all)
  if (serving.every(({ pool }) => !Object.hasOwn(pools, pool))) return { is: 'anywhere' }
  const open = serving.filter(({ pool }) => (used[pool] ?? 0) < limitOf(pool))
  const [best] = open.toSorted((a, b) => b.free - a.free || (a.pool < b.pool ? -1 : 1))
  if (best) return { is: 'in', pool: best.pool }
  const full = serving.map(({ pool }) => `${pool} ${limitOf(pool)}`).join(', ')
  return { is: 'full', why: `No pool that serves it may have another live session (at most: ${full}).` }
}

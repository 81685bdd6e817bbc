/** Clashes of planned starts, each with what would mend it. */
import { clashes, type Clash } from '../calendar'

/** A planned start with what it takes: `seats` by pool, as its plan uses them. `elsewhere`: pools that could
 * take all of it instead, with the seats it would use there. */
export type RotaEntry = {
  id: string
  at: string
  p50Ms: number
  p90Ms: number
  seats: Record<string, number>
  exclusive?: string[]
  /** A start that lies ahead, and a person may move. */ movable: boolean
  elsewhere: { pool: string; seats: number }[]
}
export type Pool = { id: string; seats: number }
export type Fix =
  { do: 'move'; id: string; at: string; byMs: number } | { do: 'pool'; id: string; pool: string }
export type FixableClash = Clash & { fixes: Fix[] }

const STEP_MS = 5 * 60_000
/** Nobody would move a start farther than this to make room. */
const FARTHEST_MS = 12 * 3_600_000
/** A clash less likely than this is none worth a person's time. */
const LIKELIHOOD_LEAST = 0.05

/** In the order of time. @param now nothing is moved to before it */
export function rotaClashes(
  pools: readonly Pool[],
  entries: readonly RotaEntry[],
  now: string,
): FixableClash[] {
  const have = new Map(pools.map(({ id, seats }) => [id, seats]))
  const pieces = entries.flatMap(({ id, at, p50Ms, p90Ms, seats, exclusive }) =>
    Object.entries(seats)
      .filter(([pool]) => have.has(pool))
      .map(([pool, count], i) => ({
        id: `${id}\n${i}`,
        pool,
        at,
        p50Ms,
        p90Ms,
        seats: count,
        ...(exclusive && i === 0 && { exclusive }),
      })),
  )
  const idOf = (piece: string) => piece.slice(0, piece.lastIndexOf('\n'))
  return clashes({ pools: [...pools], occurrences: pieces })
    .filter(({ likelihood }) => likelihood >= LIKELIHOOD_LEAST)
    .map((clash) => {
      const ids = [...new Set(clash.ids.map(idOf))]
      return { ...clash, ids, fixes: fixesOf(ids, entries, have, Date.parse(now)) }
    })
}

/** The one that starts last is the one to move; the others when it cannot be. */
function fixesOf(
  ids: readonly string[],
  entries: readonly RotaEntry[],
  have: ReadonlyMap<string, number>,
  now: number,
): Fix[] {
  const among = entries
    .filter(({ id, movable }) => movable && ids.includes(id))
    .sort((a, b) => Date.parse(b.at) - Date.parse(a.at))
  for (const entry of among) {
    const others = entries.filter(({ id }) => id !== entry.id)
    const fixes: Fix[] = []
    for (const direction of [1, -1]) {
      const at = freeStart(entry, others, have, direction, now)
      if (at !== undefined)
        fixes.push({
          do: 'move',
          id: entry.id,
          at: new Date(at).toISOString(),
          byMs: at - Date.parse(entry.at),
        })
    }
    const pool = entry.elsewhere.find((place) =>
      fits({ ...entry, seats: { [place.pool]: place.seats } }, Date.parse(entry.at), others, have),
    )
    if (pool) fixes.push({ do: 'pool', id: entry.id, pool: pool.pool })
    if (fixes.length > 0) return fixes
  }
  return []
}

function freeStart(
  entry: RotaEntry,
  others: readonly RotaEntry[],
  have: ReadonlyMap<string, number>,
  direction: number,
  now: number,
): number | undefined {
  const at = Date.parse(entry.at)
  // On whole five minutes, as people say times.
  const first =
    direction > 0 ? Math.ceil((at + 1) / STEP_MS) * STEP_MS : Math.floor((at - 1) / STEP_MS) * STEP_MS
  for (let start = first; Math.abs(start - at) <= FARTHEST_MS && start > now; start += direction * STEP_MS)
    if (fits(entry, start, others, have)) return start
  return undefined
}

/** Whether a start at this moment leaves every pool with seats enough, as long as everything lasts to its
 * p90. */
function fits(
  entry: RotaEntry,
  at: number,
  others: readonly RotaEntry[],
  have: ReadonlyMap<string, number>,
): boolean {
  const end = at + entry.p90Ms
  const beside = others.filter(
    (other) => Date.parse(other.at) < end && Date.parse(other.at) + other.p90Ms > at,
  )
  if (beside.some((other) => other.exclusive?.some((name) => entry.exclusive?.includes(name)))) return false
  // The need changes only where something starts.
  const moments = [at, ...beside.map((other) => Date.parse(other.at)).filter((start) => start > at)]
  return Object.entries(entry.seats).every(([pool, own]) => {
    const limit = have.get(pool)
    return (
      limit === undefined ||
      moments.every(
        (moment) =>
          own +
            beside
              .filter(
                (other) => Date.parse(other.at) <= moment && Date.parse(other.at) + other.p90Ms > moment,
              )
              .reduce((sum, other) => sum + (other.seats[pool] ?? 0), 0) <=
          limit,
      )
    )
  })
}

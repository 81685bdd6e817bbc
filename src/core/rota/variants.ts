/** What would change a rotation's end: one more seat, one environment less, more or fewer retries. */
import type { Clock } from '../compute/budget'
import { plan } from '../planning'
import { inputOf, type Outlook, type OutlookAgent, type OutlookBasis, type OutlookRotation } from './outlook'

/** `earlierMs`: by how much it would end earlier; negative: later. */
export type Variant = { kind: 'seat' | 'without'; environment: string; seats: number; earlierMs: number }

const BUDGET_MS = 40
const MOST = 4
/** A change that is smaller than this share of the whole is none a person would make. */
const SHARE_LEAST = 0.01

/** The changes that matter most, the largest gain first. Each is planned anew, roughly; compared with a plan
 * made as roughly. */
export function variantsOf(
  rotation: OutlookRotation,
  basis: OutlookBasis,
  { picked, makespanMs }: Outlook,
  clock?: Clock,
): Variant[] {
  if (makespanMs === 0) return []
  const { input } = inputOf(rotation, basis, picked.keys)
  const endOf = (given: typeof input) =>
    plan(
      {
        agents: given.agents,
        work: given.work.map(({ p90Ms: _, failRate: __, ...work }) => work),
        spread: given.spread,
        switchMs: given.switchMs!,
        budgetMs: BUDGET_MS,
      },
      clock,
    )
  const now = endOf(input)
  const placed = now.lanes.flatMap(({ items }) => items).length
  const seatsFor = (key: string) =>
    basis.agents.filter((agent) => fitsPool(rotation, agent) && agent.environments.includes(key))
  const variants = picked.keys.flatMap((environment): Variant[] => {
    const serving = seatsFor(environment)
    const seats = serving.reduce((sum, agent) => sum + agent.seats, 0)
    const found: Variant[] = []
    if (rotation.where.spread === 'split' && serving[0]) {
      // A seat like those that serve it: it takes what they take.
      const more = endOf({
        ...input,
        agents: [
          ...input.agents,
          { id: `another ${environment}`, seats: 1, environments: serving[0].environments },
        ],
      })
      found.push({ kind: 'seat', environment, seats: seats + 1, earlierMs: now.makespanMs - more.makespanMs })
    }
    if (picked.keys.length > 1) {
      const less = endOf({ ...input, work: without(input.work, environment) })
      found.push({ kind: 'without', environment, seats, earlierMs: now.makespanMs - less.makespanMs })
    }
    return found
  })
  return placed === 0
    ? []
    : distinct(variants)
        .filter(({ earlierMs }) => Math.abs(earlierMs) >= now.makespanMs * SHARE_LEAST)
        .sort((a, b) => b.earlierMs - a.earlierMs)
        .slice(0, MOST)
}

const fitsPool = ({ where: { pool } }: OutlookRotation, agent: OutlookAgent) =>
  pool === undefined || agent.pool === pool

function without<T extends { id: string; environment: string; after?: string[] }>(
  work: readonly T[],
  environment: string,
): T[] {
  const kept = work.filter((one) => one.environment !== environment)
  const ids = new Set(kept.map(({ id }) => id))
  return kept.map((one) => (one.after ? { ...one, after: one.after.filter((id) => ids.has(id)) } : one))
}

/** The same seat may serve several environments: it is one change, named after the first. */
function distinct(variants: readonly Variant[]): Variant[] {
  const seen = new Set<string>()
  return variants.filter(
    ({ kind, seats, earlierMs }) =>
      kind === 'without' || (!seen.has(`${seats} ${earlierMs}`) && seen.add(`${seats} ${earlierMs}`)),
  )
}

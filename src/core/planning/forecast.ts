/** When a plan will finish: a Monte Carlo simulation of it, with durations, failures, retries and lost
 * agents drawn at random. */
import { Budget, type Clock } from '../compute/budget'
import { logSigma, randomNormal } from '../compute/normal'
import { randomFrom, type Random } from '../execution/random'
import { retryBarredBy, type Retries } from '../execution/retrying'
import { plan, type BoundKind, type PlanInput, type PlanOutput, type PlanWork } from './plan'

export type ForecastWork = PlanWork & {
  p90Ms?: number
  /** Probability that one attempt fails. */ failRate?: number
}
export type ForecastInput = Omit<PlanInput, 'work'> & {
  work: ForecastWork[]
  retries?: number
  agentLossPerHour?: number
  draws?: number
}
/** Instants in ms, absolute like `now`. `retryChance`: that it needs another attempt; `failChance`: that all
 * fail; `delayMs`: how much later the whole ends, on average, when it does. */
export type Risk = { work: string; retryChance: number; failChance: number; delayMs: number }
export type ForecastOutput = {
  finishMs: { p10: number; p50: number; p90: number }
  byLane: { agent: string; seat: number; p50: number; p90: number }[]
  expectedRetries: number
  risky: Risk[]
  /** Of the plan that is played. */ boundMs: number
  bound: BoundKind
  unplaceable: { work: string; reason: string }[]
  cut?: true
}

const DRAWS = 500
const PLAN_MS = 200
const HOUR_MS = 3_600_000
/** A lost agent's seats are back after this: its leases run out, and it is started again. */
const AWAY_MS = 120_000
const RISKY_MOST = 10
/** Attempts played in a millisecond, on a slow machine. */
const STEPS_PER_MS = 2000

/** Items of a lane in their order, as the draws play them. */
type Piece = {
  work: ForecastWork
  lane: number
  switchMs: number
  ms: number
  sigma: number
  after: number[]
  exclusive: number[]
  together: number
}

/** @throws {BadInput} as planning does */
export const forecast = (input: ForecastInput, clock?: Clock): ForecastOutput =>
  forecastWithPlan(input, clock).forecast

/** The same, together with the plan that was simulated, so that it can be drawn.
 * @throws {BadInput} as planning does */
export function forecastWithPlan(
  input: ForecastInput,
  clock?: Clock,
): { forecast: ForecastOutput; plan: PlanOutput } {
  const { retries = 0, agentLossPerHour = 0, draws = DRAWS, now = 0, seed = 1 } = input
  const { work, ...planned } = planOf(input, clock)
  const { lanes, unplaceable, boundMs, bound } = planned
  const pieces = piecesOf(work, lanes, input.agents)
  const budget = new Budget(input.budgetMs ?? 5000, STEPS_PER_MS, clock)
  const random = randomFrom(seed)
  const finishes: number[] = []
  const laneEnds = lanes.map(() => [] as number[])
  const retried = new Int32Array(pieces.length)
  const failed = new Int32Array(pieces.length)
  const endsWhenRetried = new Float64Array(pieces.length)
  let retriesInAll = 0
  for (let draw = 0; draw < draws; draw++) {
    const one = play(
      pieces,
      lanes.map((lane) => input.agents.findIndex(({ id }) => id === lane.agent)),
      { now, retries, agentLossPerHour, random },
    )
    finishes.push(one.end)
    one.laneEnds.forEach((end, l) => laneEnds[l]!.push(end))
    pieces.forEach((_, i) => {
      const more = one.attempts[i]! - 1
      retriesInAll += more
      if (more > 0) {
        retried[i]!++
        endsWhenRetried[i]! += one.end
      }
      if (one.failed[i]) failed[i]!++
    })
    if (!budget.spend(pieces.length)) break
  }
  const n = finishes.length
  const mean = finishes.reduce((sum, end) => sum + end, 0) / n
  const risky = pieces
    .map(({ work: { id } }, i): Risk => ({
      work: id,
      retryChance: retried[i]! / n,
      failChance: failed[i]! / n,
      delayMs: retried[i]! > 0 ? Math.max(0, Math.round(endsWhenRetried[i]! / retried[i]! - mean)) : 0,
    }))
    .filter(({ retryChance, failChance }) => retryChance > 0.02 || failChance > 0.02)
    .sort((a, b) => b.retryChance + b.failChance - a.retryChance - a.failChance || (a.work < b.work ? -1 : 1))
    .slice(0, RISKY_MOST)
  const played: ForecastOutput = {
    finishMs: { p10: nearest(finishes, 0.1), p50: nearest(finishes, 0.5), p90: nearest(finishes, 0.9) },
    byLane: lanes.map(({ agent, seat }, l) => ({
      agent,
      seat,
      p50: nearest(laneEnds[l]!, 0.5),
      p90: nearest(laneEnds[l]!, 0.9),
    })),
    expectedRetries: retriesInAll / n,
    risky,
    boundMs,
    bound,
    unplaceable,
    ...(budget.cut && { cut: true as const }),
  }
  return { forecast: played, plan: planned }
}

function planOf(input: ForecastInput, clock: Clock | undefined) {
  const work = input.work.map(({ p90Ms: _, failRate: __, ...one }) => one)
  const { retries: _, agentLossPerHour: __, draws: ___, ...rest } = input
  const planned = plan({ ...rest, work, budgetMs: Math.min(PLAN_MS, input.budgetMs ?? PLAN_MS) }, clock)
  // In "everywhere" each piece of work is there once for every agent, under its own id.
  const byId = new Map(input.work.map((one) => [one.id, one]))
  const all = planned.lanes.flatMap(({ items }) => items.map(({ work: id }) => id))
  const suffixed = all.flatMap((id) => {
    const own = byId.get(id)
    const at = own
      ? -1
      : input.agents.reduce(
          (found, agent) => (id.endsWith(`@${agent.id}`) ? id.length - agent.id.length - 1 : found),
          -1,
        )
    const base = own ?? byId.get(id.slice(0, at))!
    const suffix = own ? '' : id.slice(at)
    return [
      {
        ...base,
        id,
        after: (base.after ?? []).map((before) => before + suffix),
        ...(base.together !== undefined && { together: base.together + suffix }),
      },
    ]
  })
  return { ...planned, work: new Map(suffixed.map((one) => [one.id, one])) }
}

/** In the order of their planned start: so whatever a piece waits for stands before it. */
function piecesOf(
  work: ReadonlyMap<string, ForecastWork>,
  lanes: ReturnType<typeof plan>['lanes'],
  agents: ForecastInput['agents'],
): Piece[] {
  const list = lanes
    .flatMap(({ items, agent }, lane) =>
      items.map((item) => ({ ...item, lane, speed: agents.find(({ id }) => id === agent)?.speed ?? 1 })),
    )
    .sort((a, b) => a.startMs - b.startMs || a.endMs - b.endMs)
  const placeOf = new Map(list.map((item, i) => [item.work, i]))
  const numbers = new Map<string, number>()
  const numberOf = (name: string) => numbers.get(name) ?? (numbers.set(name, numbers.size), numbers.size - 1)
  return list.map(({ work: id, lane, switchMs, speed }): Piece => {
    const one = work.get(id)!
    const p90Ms = one.p90Ms ?? one.ms * 1.3
    return {
      work: one,
      lane,
      switchMs,
      ms: one.ms / speed,
      sigma: one.ms > 0 ? Math.max(0, logSigma(one.ms, p90Ms)) : 0,
      after: (one.after ?? []).flatMap((before) => (placeOf.has(before) ? [placeOf.get(before)!] : [])),
      exclusive: (one.exclusive ?? []).map((name) => numberOf(`alone ${name}`)),
      together: one.together === undefined ? -1 : numberOf(`joint ${one.together}`),
    }
  })
}

type Chances = { now: number; retries: number; agentLossPerHour: number; random: Random }

/** One simulated run: each lane in its order, every item as early as possible. */
function play(
  pieces: readonly Piece[],
  agentOf: readonly number[],
  { now, retries, agentLossPerHour, random }: Chances,
) {
  const again: Retries = { case: retries }
  const laneEnds = agentOf.map(() => now)
  const lossOf = new Map<number, number>()
  if (agentLossPerHour > 0)
    for (const agent of new Set(agentOf))
      lossOf.set(agent, now + (-Math.log(1 - random()) / agentLossPerHour) * HOUR_MS)
  const ends = new Float64Array(pieces.length)
  const attempts = new Int32Array(pieces.length).fill(1)
  const failed = new Uint8Array(pieces.length)
  const held = new Map<number, number>()
  const jointStart = jointStarts(pieces)
  let end = now
  for (let i = 0; i < pieces.length; i++) {
    const piece = pieces[i]!
    let start = laneEnds[piece.lane]! + piece.switchMs
    for (const before of piece.after) start = Math.max(start, ends[before]!)
    for (const name of piece.exclusive) start = Math.max(start, held.get(name) ?? now)
    // Joint pieces start when the last of them can: those that stand later in the order are looked at now.
    if (piece.together >= 0) {
      const others = jointStart.get(piece.together)!
      if (others.start === undefined)
        others.start = others.members.reduce(
          (latest, m) =>
            Math.max(
              latest,
              laneEnds[pieces[m]!.lane]! + pieces[m]!.switchMs,
              ...pieces[m]!.after.map((before) => ends[before]!),
            ),
          start,
        )
      start = Math.max(start, others.start)
    }
    let at = start
    for (;;) {
      const ms = piece.ms * Math.exp(piece.sigma * randomNormal(random))
      at += ms
      const lost = lossOf.get(agentOf[piece.lane]!)
      if (lost !== undefined && lost > at - ms && lost <= at) {
        at = lost + AWAY_MS + piece.ms // done again from its beginning; no retry of the case is used up
        lossOf.set(agentOf[piece.lane]!, at + (-Math.log(1 - random()) / agentLossPerHour) * HOUR_MS)
      }
      const fails = random() < (piece.work.failRate ?? 0)
      if (!fails || retryBarredBy(attempts[i]! - 1, undefined, again) !== undefined) {
        failed[i] = fails ? 1 : 0
        break
      }
      attempts[i]!++
    }
    ends[i] = laneEnds[piece.lane] = at
    for (const name of piece.exclusive) held.set(name, at)
    end = Math.max(end, at)
  }
  return { end, laneEnds, attempts, failed }
}

function jointStarts(pieces: readonly Piece[]): Map<number, { members: number[]; start?: number }> {
  const found = new Map<number, { members: number[]; start?: number }>()
  pieces.forEach(({ together }, i) => {
    if (together < 0) return
    const joint = found.get(together) ?? { members: [] }
    joint.members.push(i)
    found.set(together, joint)
  })
  return found
}

/** Nearest rank: always one of the values. */
function nearest(values: readonly number[], share: number): number {
  const sorted = values.toSorted((a, b) => a - b)
  return Math.round(sorted[Math.max(0, Math.ceil(share * sorted.length) - 1)] ?? 0)
}

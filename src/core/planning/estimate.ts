/** How long a case run will take, from how long it took before: weighted quantiles of the logarithms of past
 * durations (a slow machine is slower by a factor, not by seconds), recent runs weighing most. */
import { Faults } from '../compute/fault'
import { groupBy } from '../model'

export type PastRun = { case: string; environment: string; ms: number; endedAt: string; outcome: string }
export type EstimateInput = {
  history: PastRun[]
  wanted: { case: string; environment: string; steps?: number }[]
  now: string
}
/** `basis`: what was known of it: the case on this environment, the case elsewhere, the environment alone,
 * its number of steps, nothing. `n`: of how many runs. */
export type Estimate = {
  case: string
  environment: string
  p50Ms: number
  p90Ms: number
  basis: 'both' | 'case' | 'environment' | 'steps' | 'default'
  n: number
}

const DAY_MS = 86_400_000
const HALF_LIFE_DAYS = 14
/** Of a case nobody knows anything about. */
const DEFAULT_MS = 10_000
const [BASE_MS, STEP_MS] = [1500, 700]
/** Shrinkage: a case's own spread weighs as much as the pooled one at this number of runs, and its own level
 * on an environment as much as the one predicted from elsewhere. */
const SPREAD_RUNS = 12
const LEVEL_RUNS = 1.5
/** Of log durations, p90 minus p50 where nothing is known: p90 is 1.6 times as long. */
const DEFAULT_SPREAD = Math.log(1.6)
/** Variance of a median over that of a mean, for normal values. */
const MEDIAN_COST = Math.PI / 2
/** Standard error of a predicted level: of a case that ran on other environments only, and of a case known
 * only by the average of its environment. */
const [ELSEWHERE_SPREAD, AVERAGE_SPREAD] = [0.12, 0.8]

type Point = { value: number; weight: number }
type Series = { key: string; environment: string; points: Point[]; level: number }

/** @throws {BadInput} for instants that are none */
export function estimate({ history, wanted, now }: EstimateInput): Estimate[] {
  const { series, floors } = seriesOf(history, instant(now, 'now'))
  const factors = factorsOf(series)
  const byCase = groupBy(series, ({ key }) => key)
  const levels = new Map([...byCase].map(([key, list]) => [key, levelOf(list, factors)]))
  const spread = spreads(series)
  const perStep = stepMsOf(wanted, levels)
  const runsOn = new Map<string, number>()
  for (const { environment, points } of series)
    runsOn.set(environment, (runsOn.get(environment) ?? 0) + points.length)
  const overall =
    levels.size > 0 ? median([...levels.values()].map((value) => ({ value, weight: 1 }))) : undefined
  return wanted.map(({ case: key, environment, steps }) => {
    const factor = factors.get(environment) ?? 0
    const own = byCase.get(key)?.find((one) => one.environment === environment)
    const caseLevel = levels.get(key)
    const floor = floors.get(`${key}\n${environment}`) ?? -Infinity
    const answer = (found: number, over: number, basis: Estimate['basis'], n: number): Estimate => {
      const level = Math.max(found, floor)
      const p50Ms = Math.max(1, Math.round(Math.exp(level)))
      return {
        case: key,
        environment,
        p50Ms,
        p90Ms: Math.max(p50Ms, Math.round(Math.exp(level + over))),
        basis,
        n,
      }
    }
    if (own) {
      const runs = weightOf(own.points)
      const level =
        (own.level * runs + (caseLevel! + factor) * LEVEL_RUNS * shareElsewhere(byCase.get(key)!)) /
        (runs + LEVEL_RUNS * shareElsewhere(byCase.get(key)!))
      return answer(level, spread(own) * Math.sqrt(1 + MEDIAN_COST / runs), 'both', own.points.length)
    }
    if (caseLevel !== undefined) {
      const list = byCase.get(key)!
      return answer(
        caseLevel + factor,
        Math.hypot(Math.max(...list.map(spread)), ELSEWHERE_SPREAD),
        'case',
        list.reduce((sum, { points }) => sum + points.length, 0),
      )
    }
    const n = runsOn.get(environment) ?? 0
    if (steps !== undefined)
      return answer(
        Math.log(BASE_MS + steps * perStep) + factor,
        Math.hypot(DEFAULT_SPREAD, AVERAGE_SPREAD / 2),
        'steps',
        n,
      )
    if (n > 0) return answer(overall! + factor, AVERAGE_SPREAD, 'environment', n)
    return answer(overall ?? Math.log(DEFAULT_MS), AVERAGE_SPREAD, 'default', 0)
  })
}

/** Runs that ended well, by case and environment. Where none did, what failed says how long it takes at
 * least: a failure ended early.
 * @returns `floors`: the level of the failures of such a case on such an environment */
function seriesOf(
  history: readonly PastRun[],
  now: number,
): { series: Series[]; floors: Map<string, number> } {
  const faults = new Faults()
  const weigh = (endedAt: string, i: number): number => {
    const at = Date.parse(endedAt)
    if (Number.isNaN(at)) faults.add(`history/${i}/endedAt`, `“${endedAt}” is no instant`)
    return 2 ** (-Math.max(0, now - at) / DAY_MS / HALF_LIFE_DAYS)
  }
  const runs = history.map((run, i) => ({
    ...run,
    point: { value: Math.log(Math.max(1, run.ms)), weight: weigh(run.endedAt, i) },
  }))
  faults.throwIfAny()
  const counted = runs.filter(({ outcome }) => outcome !== 'skipped' && outcome !== 'cancelled')
  const series: Series[] = []
  const floors = new Map<string, number>()
  for (const [id, list] of groupBy(counted, (run) => `${run.case}\n${run.environment}`)) {
    const good = list.filter(({ outcome }) => outcome === 'passed' || outcome === 'recovered')
    const points = (good.length > 0 ? good : list).map(({ point }) => point)
    const level = median(points)
    if (good.length === 0) floors.set(id, level)
    else series.push({ key: list[0]!.case, environment: list[0]!.environment, points, level })
  }
  return { series, floors }
}

/** Effect of each environment on the log duration of any case, fitted together with the level of each case by
 * median polish (Tukey, Exploratory Data Analysis, 1977). */
function factorsOf(series: readonly Series[]): Map<string, number> {
  let factors = new Map<string, number>()
  const [byCase, byEnvironment] = [
    groupBy(series, ({ key }) => key),
    groupBy(series, ({ environment }) => environment),
  ]
  for (let round = 0; round < 6; round++) {
    const levels = new Map([...byCase].map(([key, list]) => [key, levelOf(list, factors)]))
    const raw = [...byEnvironment].map(
      ([environment, list]) =>
        [
          environment,
          median(
            list.map((one) => ({ value: one.level - levels.get(one.key)!, weight: weightOf(one.points) })),
          ),
        ] as const,
    )
    const middle = raw.length > 0 ? median(raw.map(([, value]) => ({ value, weight: 1 }))) : 0
    factors = new Map(raw.map(([environment, value]) => [environment, value - middle]))
  }
  return factors
}

const levelOf = (list: readonly Series[], factors: ReadonlyMap<string, number>) =>
  median(
    list.map(({ level, environment, points }) => ({
      value: level - (factors.get(environment) ?? 0),
      weight: weightOf(points),
    })),
  )
/** What is known of the case elsewhere can only speak where it has run elsewhere. */
const shareElsewhere = (list: readonly Series[]) => (list.length > 1 ? 1 : 0)

/** p90 minus p50 of a series' log durations, shrunk towards the pooled value the fewer runs it has. */
function spreads(series: readonly Series[]): (one: Series) => number {
  const residuals = series.flatMap(({ points, level }) =>
    points.length > 2 ? points.map(({ value, weight }) => ({ value: value - level, weight })) : [],
  )
  const everybody = residuals.length >= 10 ? quantile(residuals, 0.9) : DEFAULT_SPREAD
  return ({ points, level }) => {
    if (points.length < 3) return everybody
    const own = quantile(
      points.map(({ value, weight }) => ({ value: value - level, weight })),
      0.9,
    )
    const runs = weightOf(points)
    return (own * runs + everybody * SPREAD_RUNS) / (runs + SPREAD_RUNS)
  }
}

/** Milliseconds a step takes: the median over the cases whose number of steps and durations are known. */
function stepMsOf(wanted: EstimateInput['wanted'], levels: ReadonlyMap<string, number>): number {
  const rates = wanted.flatMap(({ case: key, steps }) =>
    steps && levels.has(key)
      ? [{ value: Math.max(50, Math.exp(levels.get(key)!) - BASE_MS) / steps, weight: 1 }]
      : [],
  )
  return rates.length >= 3 ? median(rates) : STEP_MS
}

/** Effective sample size of weighted runs (Kish, Survey Sampling, 1965). */
function weightOf(points: readonly Point[]): number {
  const [sum, squares] = points.reduce(([a, b], { weight }) => [a + weight, b + weight * weight], [0, 0])
  return squares === 0 ? 0 : (sum * sum) / squares
}

const median = (points: readonly Point[]) => quantile(points, 0.5)
/** Weighted quantile, interpolated between the two nearest values. */
function quantile(points: readonly Point[], share: number): number {
  const sorted = points.toSorted((a, b) => a.value - b.value)
  const total = sorted.reduce((sum, { weight }) => sum + weight, 0)
  const target = share * total
  let [before, last] = [0, sorted[0]!]
  let lastAt = last.weight / 2
  for (const point of sorted) {
    const at = before + point.weight / 2
    if (at >= target)
      return point === last || at === lastAt
        ? point.value
        : last.value + ((point.value - last.value) * (target - lastAt)) / (at - lastAt)
    before += point.weight
    last = point
    lastAt = at
  }
  return last.value
}

function instant(text: string, path: string): number {
  const at = Date.parse(text)
  if (!Number.isNaN(at)) return at
  const faults = new Faults()
  faults.add(path, `“${text}” is no instant`)
  faults.throwIfAny()
  return at
}

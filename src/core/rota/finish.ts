/** When a run that goes on will be done, from what has come in: what is left, as long as this run has shown
 * things to take. */
import { forecastWithPlan, type ForecastWork } from '../planning'
import type { OutlookAgent } from './outlook'

/** What is not over yet. `sinceMs`: how long it has been at work; absent: it waits. Exclusive names, scopes
 * and what it follows as in its suite. */
export type OpenPiece = {
  id: string
  environment: string
  estimateMs: number
  sinceMs?: number
  agent?: string
  exclusive: string[]
  after: string[]
  scopes: string[]
}
/** What is over: how long it took, and was expected to. */
export type EndedPiece = { ms: number; estimateMs: number }
export type Finish = { p50Ms: number; p90Ms: number; pace: number }

/** Shrinkage: the observed pace weighs as much as the estimates once this many pieces have ended. */
const TRUST = 5
/** Of a piece that has taken longer than it should have, so much of its length is still to come. */
const OVERDUE_SHARE = 0.15
/** Where nothing says how far a length may be off. */
const SPREAD = 1.5
const [DRAWS, BUDGET_MS] = [80, 60]
/** With more than so many left, order and chance even out: their sum over the seats says as much, for a
 * thousandth of the work. */
const PLANNED_MOST = 2000
const MANY_SPREAD = 1.05

/** Pace of the run: the median of actual over estimated durations, shrunk towards 1 while few pieces have
 * ended. */
export function paceOf(ended: readonly EndedPiece[]): number {
  const ratios = ended
    .filter(({ ms, estimateMs }) => ms > 0 && estimateMs > 0)
    .map(({ ms, estimateMs }) => ms / estimateMs)
    .sort((a, b) => a - b)
  if (ratios.length === 0) return 1
  const median = (ratios[(ratios.length - 1) >> 1]! + ratios[ratios.length >> 1]!) / 2
  return Math.exp((Math.log(median) * ratios.length) / (ratios.length + TRUST))
}

/** Time from now on. Deterministic for the same input. */
export function finishOf(
  open: readonly OpenPiece[],
  ended: readonly EndedPiece[],
  agents: readonly OutlookAgent[],
  retries: number,
): Finish {
  const pace = paceOf(ended)
  if (open.length > PLANNED_MOST) return { ...bySum(open, agents, pace), pace }
  const holders = new Map<string, string[]>()
  for (const { id, environment, scopes } of open)
    for (const scope of scopes)
      holders.set(`${environment} ${scope}`, [...(holders.get(`${environment} ${scope}`) ?? []), id])
  const work = open.map(({ id, environment, estimateMs, sinceMs, agent, exclusive, after }): ForecastWork => {
    const whole = Math.max(1, estimateMs * pace)
    const ms = Math.round(sinceMs === undefined ? whole : Math.max(whole - sinceMs, whole * OVERDUE_SHARE))
    const behind =
      sinceMs === undefined
        ? [...new Set(after.flatMap((scope) => holders.get(`${environment} ${scope}`) ?? []))].filter(
            (other) => other !== id,
          )
        : []
    return {
      id,
      environment,
      ms,
      p90Ms: Math.round(ms * SPREAD),
      failRate: 0,
      exclusive,
      ...(behind.length > 0 && { after: behind }),
      ...(sinceMs !== undefined &&
        agent !== undefined &&
        agents.some(({ name }) => name === agent) && { agent }),
    }
  })
  if (work.length === 0) return { p50Ms: 0, p90Ms: 0, pace }
  const { forecast } = forecastWithPlan({
    agents: agents.map(({ name, seats, environments }) => ({ id: name, seats, environments })),
    work,
    spread: 'split',
    retries,
    draws: DRAWS,
    budgetMs: BUDGET_MS,
    switchMs: { same: 0, other: 0 },
  })
  return { p50Ms: forecast.finishMs.p50, p90Ms: forecast.finishMs.p90, pace }
}

/** Each environment's work over the seats that serve it, and all of it over all seats: the later of these. */
function bySum(
  open: readonly OpenPiece[],
  agents: readonly OutlookAgent[],
  pace: number,
): Pick<Finish, 'p50Ms' | 'p90Ms'> {
  const sum = (pieces: readonly OpenPiece[]) =>
    pieces.reduce((ms, { estimateMs, sinceMs = 0 }) => ms + Math.max(estimateMs * pace - sinceMs, 0), 0)
  const seats = (able: readonly OutlookAgent[]) =>
    Math.max(
      1,
      able.reduce((count, agent) => count + agent.seats, 0),
    )
  const keys = [...new Set(open.map(({ environment }) => environment))]
  const p50Ms = Math.round(
    Math.max(
      sum(open) / seats(agents),
      ...keys.map(
        (key) =>
          sum(open.filter(({ environment }) => environment === key)) /
          seats(agents.filter(({ environments }) => environments.includes(key))),
      ),
    ),
  )
  return { p50Ms, p90Ms: Math.round(p50Ms * MANY_SPREAD) }
}

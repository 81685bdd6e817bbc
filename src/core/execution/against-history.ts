/** What recovery rules would have met in the past, what they did, what that cost, and whether one of them
 * hides something. */
import { findsExpression, type FailureKind, type RuleCondition } from '../model'
import type { Outcome } from './outcomes'
import { whyUnfit, type FailureFacts } from './recover'

/** A moment of the past at which something failed. `use`: what was done about it; absent: the attempt ended
 * with it. */
export type PastFailure = FailureFacts & {
  attempt: string
  caseRun: string
  title: string
  run: string
  path?: string
  at: string
  use?: { rule: string; result: 'worked' | 'failed'; ms: number }
  /** What the case run ended with. */
  outcome: Outcome
}
export type RuleHistory = {
  rule: string
  /** Failures that fit its conditions, whoever dealt with them; on how many environments; by day, the newest
   * last. */
  matched: number
  environments: number
  byDay: number[]
  used: number
  /** Uses after which the case run passed. */ helped: number
  costMs: number
  notHelped: Pick<PastFailure, 'attempt' | 'title' | 'run' | 'message'>[]
  /** How often a check failed later in the same case run at the same place, after it and in case runs without
   * it; `hides`: too often to be chance. */
  sameCheck: { failed: number; of: number }
  hides: boolean
}
/** Failures that no rule fits, those alike together: numbers and quoted parts aside. */
export type Uncaught = { kind: FailureKind; message: string; count: number; attempt: string }

const DAY_MS = 86_400_000
const SHOWN = 5
/** So few uses say nothing. */
const HIDES_USES = 5
/** A rule after which the same check fails in so many of its uses did not put anything right: it only put it
 * off. */
const HIDES_SHARE = 0.5

/** @param rules those of one policy, by their full ids
 * @param days how far back the failures reach; `now` is the end of the last day */
export function againstHistory(
  rules: readonly { id: string; when: RuleCondition }[],
  past: readonly PastFailure[],
  { now, days }: { now: string; days: number },
): { rules: RuleHistory[]; uncaught: Uncaught[] } {
  const end = Date.parse(now)
  const caught = new Set<PastFailure>()
  const byCaseRun = groupBy(past, ({ caseRun }) => caseRun)
  const histories = rules.map(({ id, when }): RuleHistory => {
    const fitting = fittingOf(when, past)
    for (const failure of fitting) caught.add(failure)
    const byDay = Array<number>(days).fill(0)
    for (const { at } of fitting) {
      const day = days - 1 - Math.floor((end - Date.parse(at)) / DAY_MS)
      if (day >= 0 && day < days) byDay[day]!++
    }
    const uses = past.filter(({ use }) => use?.rule === id)
    const helped = uses.filter(
      ({ use, outcome }) => use!.result === 'worked' && (outcome === 'recovered' || outcome === 'passed'),
    )
    const sameCheck = {
      failed: uses.filter((one) => checkFailsLater(one, byCaseRun.get(one.caseRun)!)).length,
      of: uses.length,
    }
    return {
      rule: id,
      matched: fitting.length,
      environments: new Set(fitting.map(({ environment }) => environment?.key)).size,
      byDay,
      used: uses.length,
      helped: helped.length,
      costMs: uses.reduce((ms, { use }) => ms + use!.ms, 0),
      notHelped: uses
        .filter((one) => !helped.includes(one))
        .slice(-SHOWN)
        .map(({ attempt, title, run, message }) => ({ attempt, title, run, message })),
      sameCheck,
      hides: sameCheck.of >= HIDES_USES && sameCheck.failed / sameCheck.of >= HIDES_SHARE,
    }
  })
  return { rules: histories, uncaught: alike(past.filter((one) => !one.use && !caught.has(one))) }
}

function fittingOf(when: RuleCondition, past: readonly PastFailure[]): PastFailure[] {
  const { message, ...rest } = when
  const fitting = past.filter((failure) => whyUnfit(rest, failure) === undefined)
  if (message === undefined) return fitting
  const found = new Map<string, boolean>() // most messages repeat
  return fitting.filter((failure) => {
    const known = found.get(failure.message) ?? findsExpression(message, failure.message)
    found.set(failure.message, known)
    return known
  })
}

/** Did a check fail after this use, in the same case run, at the place it was used for? */
const checkFailsLater = (used: PastFailure, same: readonly PastFailure[]): boolean =>
  same.some(
    (other) =>
      other !== used &&
      other.kind === 'check' &&
      other.path === used.path &&
      (other.at > used.at || (other.at === used.at && !other.use)),
  )

function alike(failures: readonly PastFailure[]): Uncaught[] {
  const groups = groupBy(
    failures,
    ({ kind, message }) => `${kind} ${message.replace(/“[^”]*”|"[^"]*"|\d+/g, '#')}`,
  )
  return [...groups.values()]
    .map((group) => ({
      kind: group[0]!.kind,
      message: group.at(-1)!.message,
      count: group.length,
      attempt: group.at(-1)!.attempt,
    }))
    .sort((a, b) => b.count - a.count)
    .slice(0, SHOWN)
}

function groupBy<T>(list: readonly T[], keyOf: (one: T) => string): Map<string, T[]> {
  const groups = new Map<string, T[]>()
  for (const one of list) {
    const group = groups.get(keyOf(one))
    if (group) group.push(one)
    else groups.set(keyOf(one), [one])
  }
  return groups
}

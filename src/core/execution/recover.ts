/** What to do about a failure: which recovery rule, or another try, or nothing more. */
import { BadInput, type Fault } from '../compute/fault'
import {
  findsExpression,
  ruleFaults,
  type FailureKind,
  type RecoveryRule,
  type Resume,
  type RuleCondition,
} from '../model'
import { retryBarredBy, type Retries } from './retrying'

/** A rule without its steps. */
export type RuleLimits = Omit<RecoveryRule, 'do' | 'off'>
export type FailureFacts = {
  kind: FailureKind
  message: string
  step?: string
  environment?: Record<string, string>
  application?: string
}
/** `worked`: its steps were carried out, and the case failed again later; `failed`: its steps failed. `rule:
 * null`: a new try of the case. */
export type RecoveryUse = { rule: string | null; result: 'worked' | 'failed' }

export type RecoverInput = {
  policy: { rules: RuleLimits[]; retries: Retries; budgetMs?: number }
  failure: FailureFacts
  /** Oldest first. */
  history: RecoveryUse[]
  /** Time that recovering took so far in this case run. */
  usedMs?: number
  /** Uses of rules in the whole run so far. */
  usedInRun?: Record<string, number>
}
export type RecoverDecision =
  | { decision: 'recover'; rule: string; resume: Resume; waitMs: number; because: string }
  | { decision: 'retry'; because: string }
  | { decision: 'fail'; because: string }

/** Rules are tried in order. One whose steps just failed, with no step of the case since, hands on to the
 * next.
 * It always ends: every use counts, of rules and of tries.
 * @throws {BadInput} for an expression that is none, an id used twice, a use of a rule that is not there */
export function recover({
  policy,
  failure,
  history,
  usedMs = 0,
  usedInRun = {},
}: RecoverInput): RecoverDecision {
  requireSound(policy.rules, history)
  if (policy.budgetMs !== undefined && usedMs >= policy.budgetMs)
    return { decision: 'fail', because: `recovering took ${usedMs} ms, and may take ${policy.budgetMs}` }
  const justFailed = rulesThatJustFailed(history)
  const refusals: string[] = []
  for (const rule of policy.rules) {
    const unfit = whyUnfit(rule.when, failure)
    if (unfit !== undefined) continue
    const uses = history.filter((use) => use.rule === rule.id).length
    const waitMs = waitOf(rule, uses)
    const isFull = rule.mostInRun !== undefined && (usedInRun[rule.id] ?? 0) >= rule.mostInRun
    const refusal =
      (justFailed.has(rule.id) && 'its steps failed') ||
      (uses >= rule.most && `it was used ${uses} of ${rule.most} times`) ||
      (isFull && `it was used ${usedInRun[rule.id]} of ${rule.mostInRun} times in the run`) ||
      (policy.budgetMs !== undefined &&
        usedMs + waitMs > policy.budgetMs &&
        `its wait of ${waitMs} ms is more than is left to recover in`)
    if (refusal === false)
      return {
        decision: 'recover',
        rule: rule.id,
        resume: rule.resume,
        waitMs,
        because: `${because(rule.when)}; use ${uses + 1} of ${rule.most}`,
      }
    refusals.push(`${rule.id}: ${refusal}`)
  }
  const noRule = refusals.length > 0 ? refusals.join('; ') : 'no rule fits'
  const { case: most } = policy.retries
  const tries = history.filter(({ rule }) => rule === null).length
  const barredBy = retryBarredBy(tries, failure.kind, policy.retries)
  if (barredBy === 'kind')
    return { decision: 'fail', because: `${noRule}; failures of kind ${failure.kind} are not tried again` }
  if (barredBy === 'number') {
    const tried = most === 0 ? 'there is no second try' : `it was tried again ${tries} of ${most} times`
    return { decision: 'fail', because: `${noRule}; ${tried}` }
  }
  return { decision: 'retry', because: `${noRule}; try ${tries + 1} of ${most} more` }
}

/** Why a rule's conditions do not hold, or `undefined` when they do. */
export function whyUnfit(
  { kinds, message, step, environment, application }: RuleCondition,
  failure: FailureFacts,
): string | undefined {
  if (kinds && !kinds.includes(failure.kind)) return `the failure is of kind ${failure.kind}`
  if (step !== undefined && step !== failure.step)
    return failure.step === undefined ? 'the step has no tag' : `the step’s tag is ${failure.step}`
  if (application !== undefined && !within(application, failure.application))
    return failure.application === undefined
      ? 'no application was open'
      : `the application is ${failure.application}`
  for (const [name, value] of Object.entries(environment ?? {}))
    if (!within(value, failure.environment?.[name]))
      return `${name} is ${failure.environment?.[name] ?? 'not known'}`
  if (message !== undefined && !findsExpression(message, failure.message)) return 'the message is another'
  return undefined
}

const within = (wanted: string | string[], actual: string | undefined): boolean =>
  actual !== undefined && [wanted].flat().includes(actual)

/** Uses at the end that failed: nothing of the case ran since, so the failure is the same one. */
function rulesThatJustFailed(history: readonly RecoveryUse[]): Set<string> {
  const last = history.findLastIndex(({ rule, result }) => rule === null || result === 'worked')
  return new Set(history.slice(last + 1).map(({ rule }) => rule!))
}

const waitOf = ({ waitMs = 0, grow = 1 }: RuleLimits, uses: number): number =>
  waitMs === 0 ? 0 : Math.min(Number.MAX_SAFE_INTEGER, Math.round(waitMs * grow ** uses))

function because({ kinds, message, step, environment, application }: RuleCondition): string {
  const said = [
    ...(kinds ? [`the kind is ${kinds.join(' or ')}`] : []),
    ...(message !== undefined ? [`the message has /${message}/`] : []),
    ...(step !== undefined ? [`the step is tagged ${step}`] : []),
    ...(application !== undefined ? [`the application is ${[application].flat().join(' or ')}`] : []),
    ...Object.entries(environment ?? {}).map(([name, value]) => `${name} is ${[value].flat().join(' or ')}`),
  ]
  return said.length > 0 ? said.join(', ') : 'it fits every failure'
}

function requireSound(rules: readonly RuleLimits[], history: readonly RecoveryUse[]): void {
  const faults: Fault[] = ruleFaults(rules).map(({ path, message }) => ({
    path: ['policy/rules', ...path].join('/'),
    message,
  }))
  history.forEach(({ rule }, i) => {
    if (rule !== null && !rules.some(({ id }) => id === rule))
      faults.push({ path: `history/${i}/rule`, message: `“${rule}” is no rule of the policy` })
  })
  if (faults.length > 0) throw new BadInput(faults)
}

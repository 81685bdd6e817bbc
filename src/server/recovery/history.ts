/** Recovery rules held against what happened, and tried on a failure of the past. */
import { recover, whyUnfit, type PastFailure } from '@/core/execution'
import { describeRule, type Environment, type RecoveryPolicy, type RecoveryRule } from '@/core/model'
import type { RecoveryTried, RuleHistoryViewModel } from '@/core/view-models'
import { attemptRow, caseRunRow } from '@/db/runs'
import { failuresSince } from '@/db/recovery'
import { listEnvironments } from '@/db/workspace'
import type { Context } from '../context'
import { Problem } from '../http/problems'

export const HISTORY_DAYS = 30
/** More failures than a person could look at; the newest are taken. */
const FAILURES_MOST = 20_000
const HISTORY_MS = 20_000

const factsOf = (environment: Environment | undefined, key: string): Record<string, string> =>
  environment
    ? {
        key,
        browser: environment.browser,
        os: environment.os,
        locale: environment.locale,
        screen: `${environment.width}x${environment.height}`,
      }
    : { key }

/** Every moment of the last days at which something failed, put right or not. */
async function pastFailures(ctx: Context): Promise<PastFailure[]> {
  const [rows, environments] = await Promise.all([
    failuresSince(ctx.db, ctx.now, HISTORY_DAYS, FAILURES_MOST),
    listEnvironments(ctx.db),
  ])
  const byKey = new Map(environments.map(({ key, facts }) => [key, facts]))
  return rows.flatMap(
    ({
      attempt,
      caseRun,
      title,
      run,
      environment,
      at,
      outcome,
      kind,
      message,
      path,
      tag,
      application,
      recoveries,
    }) => {
      const shared = {
        attempt,
        caseRun,
        title,
        run,
        at: at.toISOString(),
        outcome: outcome ?? ('errored' as const),
        environment: factsOf(byKey.get(environment), environment),
      }
      const uses = recoveries.map((one): PastFailure => ({
        ...shared,
        kind: one.kind,
        message: one.message ?? '',
        path: one.path,
        use: { rule: one.rule, result: one.result, ms: one.ms },
        ...(one.tag !== undefined && { step: one.tag }),
        ...(one.application !== undefined && { application: one.application }),
      }))
      const last: PastFailure[] =
        kind === null
          ? []
          : [
              {
                ...shared,
                kind,
                message: message ?? '',
                ...(path !== null && { path }),
                ...(tag !== null && { step: tag }),
                ...(application !== null && { application }),
              },
            ]
      return [...uses, ...last]
    },
  )
}

export async function ruleHistory(
  ctx: Context,
  { key, rules }: Pick<RecoveryPolicy, 'key' | 'rules'>,
): Promise<RuleHistoryViewModel> {
  const past = await pastFailures(ctx)
  const question = {
    rules: rules.map(({ id, when }) => ({ id: `${key}/${id}`, when })),
    past,
    now: new Date().toISOString(),
    days: HISTORY_DAYS,
  }
  const found = await ctx.work.run('history', question, { limitMs: HISTORY_MS })
  return {
    days: HISTORY_DAYS,
    failures: past.length,
    rules: found.rules.map((one) => ({ ...one, rule: one.rule.slice(key.length + 1) })),
    uncaught: found.uncaught,
  }
}

/** What these rules, as they stand in the editor, would do about the failure an attempt ended with. @throws
 * {Problem} NOT_FOUND */
export async function tryRules(
  ctx: Context,
  rules: readonly RecoveryRule[],
  attemptId: string,
): Promise<RecoveryTried> {
  const attempt = await attemptRow(ctx.db, attemptId)
  const caseRun = attempt && (await caseRunRow(ctx.db, attempt.caseRunId))
  if (!attempt || !caseRun || attempt.failureKind === null)
    throw new Problem('NOT_FOUND', 'There is no such failure any more.')
  const environment = (await listEnvironments(ctx.db)).find(({ key }) => key === caseRun.environment)?.facts
  const { failureKind: kind, failureMessage, failureTag, failureApplication } = attempt
  const failure = {
    kind,
    message: failureMessage ?? '',
    environment: factsOf(environment, caseRun.environment),
    ...(failureTag !== null && { step: failureTag }),
    ...(failureApplication !== null && { application: failureApplication }),
  }
  const on = rules.filter(({ off }) => !off)
  const { decision, because, ...rest } = recover({
    policy: { rules: on, retries: { case: 0 } },
    failure,
    history: [],
  })
  return {
    attempt: attemptId,
    title: caseRun.title,
    kind,
    message: failure.message,
    because,
    rule: decision === 'recover' && 'rule' in rest ? rest.rule : null,
    rules: rules.map((rule) => ({
      id: rule.id,
      words: describeRule(rule),
      why: rule.off ? 'it is off' : (whyUnfit(rule.when, failure) ?? null),
    })),
  }
}

/** Which recovery policies count for what: that of the case, of its suites, of the rotation, of the
 * workspace. */
import type { Work, WorkRule } from '@/core/execution'
import type { PolicyUse } from '@/core/model'
import { note } from '@/db/audit'
import type { CaseRunRow, AttemptRow } from '@/db/claim'
import { notify } from '@/db/notify'
import { putSetting, setting } from '@/db/settings'
import { usesInRun } from '@/db/recovery'
import type { RunSnapshot } from '@/db/schema'
import type { Context } from '../context'
import { loadLibrary } from '../definitions'
import { Problem } from '../http/problems'

const NAME = 'recovery-policy'

/** Key of the policy that counts for everything, after all others. */
export const workspacePolicy = async (ctx: Pick<Context, 'db'>): Promise<string | undefined> =>
  (await setting<{ key: string }>(ctx.db, NAME))?.key

/** @param key `null`: none. @throws {Problem} NOT_FOUND */
export async function setWorkspacePolicy(ctx: Context, key: string | null, who: string): Promise<void> {
  if (key !== null && !(await loadLibrary(ctx)).policies.has(key))
    throw new Problem('NOT_FOUND', `There is no recovery policy “${key}”.`)
  await ctx.db.transaction(async (tx) => {
    await putSetting(tx, NAME, key === null ? {} : { key })
    await note(tx, who, 'recovery.workspace', key ?? 'none')
  })
  await notify(ctx.db, 'recovery')
}

/** Rules in the order they are tried, those that are off left out. An id holds its policy's key: two policies
 * may have rules of one name. */
export const rulesOf = (
  uses: readonly PolicyUse[],
  policies: NonNullable<RunSnapshot['policies']>,
): WorkRule[] =>
  uses
    // attached twice, it counts where it is nearest
    .filter(({ policy }, i) => uses.findIndex((other) => other.policy === policy) === i)
    .flatMap(
      ({ policy, from }) =>
        policies[policy]?.rules
          .filter(({ off }) => !off)
          .map((rule) => ({ ...rule, id: `${policy}/${rule.id}`, policy, from })) ?? [],
    )

/** What an attempt is given to recover with. @param before the earlier attempts of the case run, oldest
 * first */
export async function recoveryOf(
  ctx: Pick<Context, 'db'>,
  caseRun: Pick<CaseRunRow, 'runId' | 'policies'>,
  policies: NonNullable<RunSnapshot['policies']>,
  before: readonly AttemptRow[],
): Promise<Pick<Work, 'recovery'>> {
  const rules = rulesOf(caseRun.policies, policies)
  if (rules.length === 0) return {}
  const budgetMs = caseRun.policies.flatMap(({ policy }) => policies[policy]?.budgetMs ?? [])[0]
  return {
    recovery: {
      rules,
      ...(budgetMs !== undefined && { budgetMs }),
      // Between two attempts stands a new try; an attempt whose agent was lost is one too, for the rules.
      history: before.flatMap(({ recoveries }) => [
        ...recoveries.map(({ rule, result }) => ({ rule, result })),
        { rule: null, result: 'worked' as const },
      ]),
      usedMs: before.reduce((sum, { recoveries }) => sum + recoveries.reduce((ms, one) => ms + one.ms, 0), 0),
      usedInRun: rules.some(({ mostInRun }) => mostInRun !== undefined)
        ? await usesInRun(ctx.db, caseRun.runId)
        : {},
    },
  }
}

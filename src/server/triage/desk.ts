/** The causes of the runs of some days: what there is to decide. */
import { CAUSES, overRuns, splitSignature, standsAs } from '@/core/triage'
import { TRIAGE_DAYS, type TriageGroup, type TriageViewModel } from '@/core/view-models'
import { decidedWithin } from '@/db/decisions'
import { handoversOf } from '@/db/handovers'
import { namesOfTesters } from '@/db/members'
import { mergesNow } from '@/db/merges'
import { causesOfRuns, runsToLookAt } from '@/db/run-causes'
import { splitsNow, type SplitRow } from '@/db/splits'
import type { Context } from '../context'
import { causesVersion } from './keep'
import { toldByExperiments, type ToldByRuns } from './experiment'
import { mergesOf, withDecisions } from './run-causes'

const DAY_MS = 86_400_000
const WEEK_MS = 7 * DAY_MS
const [CAUSES_MOST, PENDING_MOST] = [5000, 100]

/** @param asked of an address; what is none of them is taken for the usual one */
export const readDays = (asked: string | null): number =>
  TRIAGE_DAYS.find((days) => String(days) === asked) ?? TRIAGE_DAYS[0]

export async function triageViewModel(ctx: Context, days: number): Promise<TriageViewModel> {
  const version = await causesVersion(ctx)
  const [kept, pending, lately, merges, splits] = await Promise.all([
    causesOfRuns(ctx.db, ctx.now, days * DAY_MS, CAUSES_MOST),
    runsToLookAt(ctx.db, ctx.now, [version], days * DAY_MS, PENDING_MOST),
    decidedWithin(ctx.db, ctx.now, WEEK_MS),
    mergesNow(ctx.db),
    splitsNow(ctx.db),
  ])
  const newest = kept[0]?.build
  const rules = mergesOf(merges)
  // a run that was not looked at anew yet has them apart
  const standing = kept.map((one) => ({ ...one, signature: standsAs(one.signature, rules) }))
  const starters = new Map<string, string[]>()
  const groups = overRuns(standing).map((found): Omit<TriageGroup, 'decision' | 'with' | 'waiting'> => {
    const [{ signature, cause }] = found
    const runs = found.map((one) => ({
      id: one.runId,
      title: one.title,
      build: one.build,
      failures: one.cause.failures,
      endedAt: one.endedAt?.toISOString() ?? null,
    }))
    starters.set(
      signature,
      found.map(({ startedBy }) => startedBy),
    )
    return {
      ...cause,
      requirements: cause.requirements ?? [],
      signature,
      runs,
      failures: runs.reduce((sum, { failures }) => sum + failures, 0),
      // another run of the build may know what the newest one cannot: whether it failed with the one before
      isNew: found.some(({ build, cause: own }) => build === runs[0]!.build && own.isNew),
      isCurrent: runs[0]!.build === newest,
      merges: merges
        .filter(({ into }) => standsAs(into, rules) === signature)
        .map(({ id, title, mergedBy }) => ({ id, title, by: mergedBy })),
      splits: splitsAt(signature, splits),
    }
  })
  const signatures = groups.map(({ signature }) => signature)
  const [told, handovers, people] = await Promise.all([
    toldByExperiments(
      ctx,
      groups.map(({ signature, runs }) => ({ signature, build: runs[0]!.build })),
    ),
    handoversOf(ctx.db, signatures),
    namesOfTesters(ctx.db),
  ])
  const holders = new Map(handovers.map(({ signature, ...given }) => [signature, given]))
  const known = groups.map((group) => ({
    ...withExperiment(group, told.get(group.signature)),
    with: holders.get(group.signature) ?? null,
    waiting: waitingFor(
      [...starters.get(group.signature)!, holders.get(group.signature)?.by],
      new Set(people),
    ),
  }))
  return {
    days,
    groups: await withDecisions(ctx, known, ({ runs }) => runs[0]!.build),
    pending: pending.length,
    people,
    lately,
  }
}

/** Build systems and the rota start runs as well, and wait for nothing. */
const waitingFor = (names: readonly (string | undefined)[], people: ReadonlySet<string>): string[] =>
  [...new Set(names)].flatMap((name) => (name !== undefined && people.has(name) ? [name] : []))

const splitsAt = (signature: string, splits: readonly SplitRow[]): TriageGroup['splits'] =>
  splits.flatMap(({ id, words, title, splitBy, ...rule }) => {
    const isThis = splitSignature({ id, signature: rule.signature }) === signature
    return isThis || rule.signature === signature ? [{ id, words, title, by: splitBy, isThis }] : []
  })

/** What runs told that were started to find out is thought from then on. */
function withExperiment<G extends Pick<TriageGroup, 'likely' | 'because'>>(
  group: G,
  told: ToldByRuns | undefined,
): G {
  if (!told) return group
  const likely = CAUSES.map((cause) => ({ cause, likelihood: told.after[cause] })).toSorted(
    (a, b) => b.likelihood - a.likelihood,
  )
  return { ...group, likely, because: [`${told.runs} runs to find out say so`, ...group.because] }
}

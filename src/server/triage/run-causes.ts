/** The failures of a run by what they say: computed when somebody looks. */
import { UNKNOWN_BUILD } from '@/core/formats'
import { guidedSteps, type GuidedStep } from '@/core/guided'
import { sentenceText, type Environment } from '@/core/model'
import {
  byUrgency,
  standsFor,
  type Factors,
  type Merges,
  type Place,
  type RunCause,
  type StandingRules,
} from '@/core/triage'
import type { CauseDecision, RunCausesViewModel, RunCauseViewModel, TriageGroup } from '@/core/view-models'
import { listAgents } from '@/db/agents'
import { newlyFailing } from '@/db/case-history'
import {
  endedWithAgents,
  failuresWithFacts,
  flakyBefore,
  triesPutRight,
  type RunFailureRow,
} from '@/db/causes'
import { decisionsOf, newestDecisions, type DecisionRow } from '@/db/decisions'
import { defectLines } from '@/db/defects'
import { mergesNow, type MergeRow } from '@/db/merges'
import { splitsNow } from '@/db/splits'
import { frozenRun, runViewModel } from '@/db/runs'
import type { Context } from '../context'
import { Problem } from '../http/problems'

/** More are not told apart here: the page says so. */
const [FAILURES_MOST, ENDED_MOST] = [5000, 20_000]
/** Decisions that are learnt from: older ones are of a product that was another. */
const LEARNT_MOST = 300
const HEALTH_MS = 5 * 60_000
const LIMIT_MS = 20_000

type Looked = {
  build: string
  /** More may come. */
  isOpen: boolean
  of: number
  failures: RunFailureRow[]
  environments: ReadonlyMap<string, Environment>
  causes: RunCause[]
  learntFrom: number
  /** Requirements that cases are evidence for, by their keys. */
  requires: ReadonlyMap<string, readonly string[]>
}

/** @throws {Problem} NOT_FOUND; BUSY, TOOK_TOO_LONG */
export async function runCausesViewModel(ctx: Context, runId: number): Promise<RunCausesViewModel> {
  const looked = await lookAtRun(ctx, runId)
  const causes = await withDecisions(ctx, causesInWords(looked), () => looked.build)
  return { of: looked.of, looked: looked.failures.length, learntFrom: looked.learntFrom, causes }
}

/** The causes as pages tell them. */
export function causesInWords({ causes, failures, environments, requires }: Looked): Undecided[] {
  const byId = new Map(failures.map((failure) => [failure.id, failure]))
  return causes.map(({ members, where, facts: _, ...one }) => ({
    ...one,
    failures: members.length,
    places: where.map(placeWords),
    members: members.map((id) => memberOf(byId.get(id)!, environments)),
    requirements: requirementsOf(
      members.map((id) => byId.get(id)!.caseKey),
      requires,
    ),
  }))
}
type Undecided = Omit<RunCauseViewModel, 'decision'>

function requirementsOf(caseKeys: readonly string[], requires: Looked['requires']): string[] {
  const ids = new Set([...new Set(caseKeys)].flatMap((key) => requires.get(key) ?? []))
  return [...ids].toSorted().slice(0, REQUIREMENTS_MOST)
}
const REQUIREMENTS_MOST = 100

/** Each with what is decided of it, in the order of urgency. @param buildOf of the run it was found in */
export async function withDecisions<
  C extends Undecided & Partial<Pick<TriageGroup, 'isCurrent' | 'waiting'>>,
>(
  ctx: Context,
  causes: readonly C[],
  buildOf: (cause: C) => string,
): Promise<(C & { decision: CauseDecision | null })[]> {
  const decided = await decisionsOf(
    ctx.db,
    causes.map(({ signature }) => signature),
  )
  const ids = [...decided.values()].flatMap(({ defectId }) => defectId ?? [])
  const defects = new Map((await defectLines(ctx.db, ids)).map((one) => [one.id, one]))
  const all = causes.map((cause) => {
    const row = decided.get(cause.signature)
    const defect = defects.get(row?.defectId ?? 0) ?? null
    const decision = decisionFor(row, defect, buildOf(cause))
    const isDecided = decision?.stands === true
    return {
      cause: { ...cause, decision },
      isCurrent: cause.isCurrent ?? true,
      isNew: cause.isNew,
      failures: cause.failures,
      isDecided,
      blocked: cause.requirements.length,
      waiting: cause.waiting?.length ?? 0,
      likely: cause.likely.find((one) => one.cause === 'product-defect')?.likelihood ?? 0,
    }
  })
  return byUrgency(all).map(({ cause }) => cause)
}

/** The causes of a run, with what there is to see of each.
 * @throws {Problem} NOT_FOUND; BUSY, TOOK_TOO_LONG */
export async function lookAtRun(ctx: Context, runId: number): Promise<Looked> {
  const [run, frozen, failures] = await Promise.all([
    runViewModel(ctx.db, runId),
    frozenRun(ctx.db, runId),
    failuresWithFacts(ctx.db, runId, FAILURES_MOST),
  ])
  if (!run || !frozen) throw new Problem('NOT_FOUND', `There is no run ${runId}.`)
  const environments = new Map(
    [...frozen.environments, ...(frozen.roleEnvironments ?? [])].map((one) => [one.key, one]),
  )
  const [of, build] = [run.counts.failed + run.counts.errored, run.build]
  const isOpen = run.state !== 'ended'
  const requires = new Map(Object.entries(frozen.cases).map(([key, one]) => [key, one.requires ?? []]))
  if (failures.length === 0)
    return { build, isOpen, of, failures, environments, causes: [], learntFrom: 0, requires }
  const [ended, agents, fresh, decisions, flaky, rules, putRight] = await Promise.all([
    endedWithAgents(ctx.db, runId, ENDED_MOST),
    listAgents(ctx.db, ctx.leaseMs),
    newlyFailing(ctx.db, runId),
    newestDecisions(ctx.db, LEARNT_MOST),
    flakyBefore(ctx.db, runId),
    standingRules(ctx),
    triesPutRight(ctx.db, runId, FAILURES_MOST),
  ])
  const flakyShare = new Map(flaky.map((one) => [`${one.caseKey} ${one.environment}`, one.share]))
  const isOfOtherBuild =
    fresh.previousBuild !== null &&
    fresh.previousBuild !== build &&
    ![fresh.previousBuild, build].includes(UNKNOWN_BUILD)
  const newCases = new Set(fresh.cases.map(({ caseKey }) => caseKey))
  const saying = sayingOf(frozen)
  const told = (failure: RunFailureRow) => ({
    id: failure.id,
    kind: failure.kind ?? '',
    message: saying(failure, environments.get(failure.environment)),
    caseKey: failure.caseKey,
    environment: failure.environment,
    agent: failure.agent,
    ...(failure.stack !== null && { stack: failure.stack }),
  })
  const causes = await ctx.work.run(
    'causes',
    {
      decisions,
      rules,
      putRight: putRight.map(told),
      failures: failures.map((failure) => ({
        ...told(failure),
        flakyBefore: flakyShare.get(`${failure.caseKey} ${failure.environment}`) ?? 0,
        ...(isOfOtherBuild && { isNew: newCases.has(failure.caseKey) }),
      })),
      ended: ended.map(({ id, caseKey, environment, agent }) => ({
        id,
        caseKey,
        environment,
        factors: factorsOf(environments.get(environment), agent),
      })),
      unhealthyAgents: isRecent(run.endedAt)
        ? agents.flatMap(({ name, alive }) => (alive ? [] : [name]))
        : [],
    },
    { limitMs: LIMIT_MS },
  )
  return { build, isOpen, of, failures, environments, causes, learntFrom: decisions.length, requires }
}

/** The failures of a run that have the cause of one of them: their attempts, with the step that failed; and
 * what the cause is called. `signature`: absent where the attempt is no failure of the run.
 * @throws {Problem} NOT_FOUND; BUSY, TOOK_TOO_LONG */
export async function sameCauseAs(
  ctx: Context,
  runId: number,
  of: string,
): Promise<{ signature: string | undefined; failures: ReadonlyMap<string, string | null> }> {
  const { causes, failures } = await lookAtRun(ctx, runId)
  const own = failures.find(({ id, attemptId }) => attemptId === of || id === of)
  const cause = causes.find(({ members }) => own !== undefined && members.includes(own.id))
  const members = new Set(cause?.members)
  return {
    signature: cause?.signature,
    failures: new Map(
      failures.flatMap(({ id, attemptId, path }) =>
        attemptId !== null && members.has(id) ? [[attemptId, path] as const] : [],
      ),
    ),
  }
}

async function standingRules({ db }: Pick<Context, 'db'>): Promise<StandingRules> {
  const [merges, splits] = await Promise.all([mergesNow(db), splitsNow(db)])
  return {
    merges: mergesOf(merges),
    splits: splits.map(({ id, signature, by, value, words }) => ({ id, signature, by, value, words })),
  }
}

export const mergesOf = (rows: readonly Pick<MergeRow, 'signature' | 'into'>[]): Merges =>
  Object.fromEntries(rows.map(({ signature, into }) => [signature, into]))

/** How agents are now says nothing of a run that ended long ago. */
const isRecent = (endedAt: Date | string | null): boolean =>
  endedAt === null || Date.now() - new Date(endedAt).getTime() < HEALTH_MS

function decisionFor(
  row: DecisionRow | undefined,
  defect: CauseDecision['defect'],
  build: string,
): CauseDecision | null {
  if (!row) return null
  const { id, as, note, decidedBy, decidedAt } = row
  return {
    id,
    as,
    note,
    build: row.build,
    by: decidedBy,
    at: decidedAt.toISOString(),
    stands: standsFor(row, build),
    defect,
  }
}

function memberOf(
  { id, attemptId, caseKey, title, environment, rowIndex, rowCount, agent, kind, path }: RunFailureRow,
  environments: ReadonlyMap<string, Environment>,
): RunCausesViewModel['causes'][number]['members'][number] {
  return {
    id,
    attemptId,
    caseKey,
    title,
    agent,
    kind: kind ?? '',
    path,
    environment: environments.get(environment)?.title ?? environment,
    environmentKey: environment,
    row: rowIndex === null ? null : `${rowIndex} of ${rowCount ?? rowIndex}`,
  }
}

function factorsOf(environment: Environment | undefined, agent: string | null): Factors {
  return {
    ...(agent !== null && { agent }),
    ...(environment && {
      environment: environment.title,
      browser: environment.browser,
      os: environment.os,
      locale: environment.locale,
      width: environment.height > environment.width ? 'narrow' : 'wide',
    }),
  }
}

type Frozen = NonNullable<Awaited<ReturnType<typeof frozenRun>>>

/** Of a result file. Messages such as “null” say nothing without the type of their error. */
function resultSays({ message, type, stack }: RunFailureRow): string {
  const said = message ?? stack?.trimStart().split('\n', 1)[0] ?? ''
  return type !== null && said.length < SAYS_LITTLE_CHARS ? `${type}: ${said}` : said
}
const SAYS_LITTLE_CHARS = 8

/** What a failure says, with the step it was at: “The text is not what was expected” says nothing by itself.
 * Of a step that a person judged, who that was and what they noted tells no cause from another. */
function sayingOf(frozen: Frozen) {
  const routines = new Map(Object.entries(frozen.routines))
  const known = new Map<string, ReadonlyMap<string, GuidedStep>>()
  return (failure: RunFailureRow, environment: Environment | undefined): string => {
    const { attemptId, caseKey, message, path } = failure
    if (attemptId === null) return resultSays(failure)
    const testCase = frozen.cases[caseKey]
    if (!testCase || !environment || path === null) return message ?? ''
    const key = `${caseKey} ${failure.rowIndex ?? ''}`
    let steps = known.get(key)
    if (!steps) {
      const values = { parameters: failure.parameters, row: failure.row ?? {}, build: frozen.build, runId: 0 }
      const all = guidedSteps(testCase, routines, { ...values, environment })
      known.set(key, (steps = new Map(all.map((step) => [step.path, step]))))
    }
    const step = steps.get(path)
    if (step?.kind === 'do')
      return (
        `${sentenceText(step.words)}: ` +
        `${failure.kind === 'check' ? 'it is not so' : 'it could not be done'}`
      )
    return failure.kind === 'check' && step?.kind === 'check'
      ? `${sentenceText(step.words)}: ${message ?? ''}`
      : (message ?? '')
  }
}

const percent = (part: number, of: number) => (of === 0 ? '0' : `${Math.round((100 * part) / of)}`)

function chanceWords(p: number): string {
  if (p < 0.001) return 'less than 1 in 1,000'
  return p < 0.01 ? 'less than 1 in 100' : `${percent(p, 1)} in 100`
}

function placeWords({ factors, failed, of, elsewhereFailed, elsewhereOf, p }: Place): string {
  const at = Object.entries(factors)
    .map(([name, value]) => `${name} ${String(value)}`)
    .join(', ')
  const chance = chanceWords(p)
  return (
    `${at}: ${failed} of ${of} failed, elsewhere ${elsewhereFailed} of ${elsewhereOf}; by chance ` +
    `${chance}`
  )
}

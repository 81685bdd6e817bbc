/** Shortening by trying: a failure is run again with fewer and fewer of its steps, as rehearsals, until no
 * step of those left can go. The worker goes on with each as its tries end. */
import { shortenNext, shortenSteps, signatureOf, stepsKept, type ShortenInput } from '@/core/triage'
import { placeOfPath, type Definition } from '@/core/model'
import { writeDefinition } from '@/core/model/editing'
import type { ShorteningsViewModel, ShorteningViewModel } from '@/core/view-models'
import { note } from '@/db/audit'
import { notify } from '@/db/notify'
import {
  addShortening,
  endOfTry,
  goingShortenings,
  newestShortening,
  noteShortening,
  stopShortening,
  type ShorteningRow,
} from '@/db/shortenings'
import { attemptContext, type AttemptContext } from '../attempt-context'
import type { Context } from '../context'
import { Problem } from '../http/problems'
import { cancelRun, prepareRun } from '../runs'
import { draftFrom } from './draft'

/** Each takes a seat for as long as the case takes. */
const TRIES_MOST = 40
const TITLE_MOST = 120

type Failed = { context: AttemptContext; failing: string; message: string; kind: string }

/** What was found for a failure, and whether more can be. @throws {Problem} NOT_FOUND */
export async function shorteningsViewModel(ctx: Context, attemptId: string): Promise<ShorteningsViewModel> {
  const context = await attemptContext(ctx, attemptId)
  const [row, failed] = [await newestShortening(ctx.db, attemptId), failureOf(context)]
  return {
    found: row ? told(row, context) : null,
    canTry: typeof failed !== 'string' && row?.state !== 'going',
    why: typeof failed === 'string' ? failed : null,
    ms: Math.max(1000, context.caseRun.estimateMs),
    most: TRIES_MOST,
  }
}

/** @throws {Problem} NOT_FOUND; BODY_INVALID: nothing can be left out of it; CHANGED_MEANWHILE: it is being
 * tried already */
export async function startShortening(ctx: Context, attemptId: string, who: string): Promise<void> {
  const failed = failureOf(await attemptContext(ctx, attemptId))
  if (typeof failed === 'string') throw new Problem('BODY_INVALID', failed)
  await ctx.db.transaction(async (tx) => {
    const id = await addShortening(tx, { attemptId, startedBy: who })
    if (id === undefined)
      throw new Problem('CHANGED_MEANWHILE', 'Fewer steps of this failure are being tried already.')
    await note(tx, who, 'defect.shorten', attemptId, { case: failed.context.caseRun.caseKey })
    await notify(tx, 'triage', attemptId)
  })
}

/** @throws {Problem} NOT_FOUND: nothing goes on */
export async function endShortening(ctx: Context, attemptId: string, who: string): Promise<void> {
  const tries = await ctx.db.transaction(async (tx) => {
    const stopped = await stopShortening(tx, attemptId)
    if (!stopped) throw new Problem('NOT_FOUND', 'No steps of this failure are being tried.')
    await note(tx, who, 'defect.shorten-stop', attemptId)
    await notify(tx, 'triage', attemptId)
    return stopped
  })
  const open = tries.find(({ same }) => same === null)
  // it may have ended meanwhile
  if (open) await cancelRun(ctx, open.runId, who).catch(() => {})
}

/** Goes on with all that go on, each by one try at most. One that fails is told so and ends. */
export async function goOnShortening(ctx: Context): Promise<void> {
  for (const row of await goingShortenings(ctx.db)) {
    try {
      await goOn(ctx, row)
    } catch (error) {
      if (!(error instanceof Problem)) throw error
      await noteShortening(ctx.db, row, { state: 'problem', problem: error.message })
      await notify(ctx.db, 'triage', row.attemptId)
    }
  }
}

async function goOn(ctx: Context, row: ShorteningRow): Promise<void> {
  const last = row.tries.at(-1)
  const end = last?.same === null ? await endOfTry(ctx.db, last.runId) : undefined
  if (end?.outcome === null) return // it goes on: asked often, so nothing more is read
  const context = await attemptContext(ctx, row.attemptId)
  const failed = failureOf(context)
  if (typeof failed === 'string') throw new Problem('BODY_INVALID', failed)
  if (last?.same === null) {
    const same = isSame(failed, last, end)
    const tries = [...row.tries.slice(0, -1), { ...last, same }]
    if (!(await noteShortening(ctx.db, row, { tries }))) return
    row = { ...row, tries }
  }
  const next = shortenNext(inputOf(row, failed))
  if (next.is === 'try') return startTry(ctx, row, failed, next.kept)
  await ctx.db.transaction(async (tx) => {
    await noteShortening(tx, row, next.is === 'gone' ? { state: 'gone' } : await foundBy(ctx, row, next))
    await notify(tx, 'triage', row.attemptId)
  })
}

async function startTry(ctx: Context, row: ShorteningRow, failed: Failed, kept: string[]): Promise<void> {
  const { caseRun, frozen, testCase } = failed.context
  const steps = stepsKept(testCase.steps, new Set(kept))
  const reduced: Definition = { ...testCase, kind: 'case', steps }
  const write = await prepareRun(
    ctx,
    {
      cases: [caseRun.caseKey],
      rehearsal: true,
      drafts: [
        { kind: 'case', key: caseRun.caseKey, source: writeDefinition(reduced) },
        ...Object.values(frozen.routines).map((routine) => ({
          kind: 'routine' as const,
          key: routine.key,
          source: writeDefinition(routine),
        })),
      ],
      ...(caseRun.rowIndex !== null && { row: caseRun.rowIndex }),
      with: caseRun.parameters,
      environments: [frozen.environment.key],
      build: frozen.build,
      retries: 0,
      limitMs: caseRun.limitMs,
      title: `With ${steps.length} steps: ${caseRun.title}`.slice(0, TITLE_MOST),
    },
    row.startedBy,
  )
  await ctx.db
    .transaction(async (tx) => {
      const runId = await write(tx)
      const tries = [...row.tries, { kept, runId, same: null }]
      // somebody stopped it meanwhile: nothing is begun
      if (!(await noteShortening(tx, row, { tries }))) throw new StoppedMeanwhile()
      await notify(tx, 'triage', row.attemptId)
    })
    .catch((error: unknown) => {
      if (!(error instanceof StoppedMeanwhile)) throw error
    })
}
class StoppedMeanwhile extends Error {}

/** Whether a try failed in the same way at its last step.
 * @throws {Problem} NOT_FOUND: nobody can tell any more */
function isSame(
  { context, message, kind }: Failed,
  { runId, kept }: ShorteningRow['tries'][number],
  end: Awaited<ReturnType<typeof endOfTry>>,
): boolean {
  if (!end || end.outcome === 'cancelled' || end.outcome === 'skipped')
    throw new Problem('NOT_FOUND', `Run ${runId}, one of the tries, was cancelled or is gone.`)
  if (end.kind !== kind || end.message === null) return false
  const steps = stepsKept(context.testCase.steps, new Set(kept))
  const isLast = placeOfPath(end.path ?? '', steps)?.split('.')[0] === String(steps.length - 1)
  const signature = (text: string) => signatureOf({ kind, message: text }).signature
  return isLast && signature(end.message) === signature(message)
}

/** The steps in words are those of the try itself: what was carried out, with its values. */
async function foundBy(
  ctx: Context,
  { tries }: ShorteningRow,
  { kept, isShortest }: { kept: string[]; isShortest: boolean },
): Promise<Partial<ShorteningRow>> {
  const best = tries.find((one) => one.same && one.kept.join() === kept.join())
  const end = best && (await endOfTry(ctx.db, best.runId))
  const draft = end?.attemptId ? await draftFrom(ctx, end.attemptId) : undefined
  return { state: 'over', kept, isShortest, steps: draft?.steps ?? null }
}

const inputOf = ({ tries }: ShorteningRow, { context, failing }: Failed): ShortenInput => ({
  steps: shortenSteps(context.testCase.steps),
  failing,
  tries: tries.map(({ kept, same }) => ({ kept, same: same === true })),
  most: TRIES_MOST,
})

/** What failed and where, or why nothing can be left out. */
function failureOf(context: AttemptContext): Failed | string {
  const { attempt, caseRun, frozen, testCase } = context
  const { failureKind, failureMessage, failurePath } = attempt
  if (failureKind === null || failureMessage === null) return 'It did not fail.'
  if (frozen.kind !== 'run' || frozen.live) return 'Only what a run of agents found can be tried again.'
  if (caseRun.roles.length > 0) return 'A case of several roles cannot be tried with fewer steps.'
  const failing = placeOfPath(failurePath ?? '', testCase.steps)
  if (failing === undefined) return 'It failed before the first step, or after the last one.'
  return { context, failing, message: failureMessage, kind: failureKind }
}

function told(row: ShorteningRow, context: AttemptContext): ShorteningViewModel {
  const { id, state, tries, isShortest, steps, problem, startedBy, startedAt, kept } = row
  const whole = tries[0]?.kept ?? []
  const same = tries.filter((one) => one.same).map((one) => one.kept)
  const best = kept ?? same.reduce((least, one) => (one.length < least.length ? one : least), whole)
  return {
    id,
    state,
    of: whole.length || context.testCase.steps.length,
    kept: best.length || context.testCase.steps.length,
    tries: tries.filter((one) => one.same !== null).length,
    most: TRIES_MOST,
    isShortest,
    steps,
    problem,
    by: startedBy,
    at: startedAt.toISOString(),
  }
}

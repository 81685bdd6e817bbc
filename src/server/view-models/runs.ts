import type { AttemptState, Mark } from '@/core/execution'
import {
  gridOf,
  LINES_PAGE,
  lanesOf as lanes,
  type AttemptViewModel,
  type Comparison,
  type ReaderStart,
  type RunProgress,
  type RunViewModel,
} from '@/core/view-models'
import { listAgents } from '@/db/agents'
import { attemptsOf } from '@/db/endings'
import { defectsOfAttempt } from '@/db/defects'
import { markedOf } from '@/db/marked-screens'
import {
  caseRunsOf,
  comparisonsOf,
  failuresOf,
  lanesOf,
  runViewModel as runRow,
  runSnapshot,
} from '@/db/runs'
import { lastGood, otherAttempts } from '@/db/case-history'
import { guidedShares } from '@/db/guided'
import type { Context } from '../context'
import { Problem } from '../http/problems'
import { runLine, seatsOf } from './now'
import { attemptContext } from '../attempt-context'
import { askLog, askLogOf } from '../reading'

const iso = (moment: Date | string | null) => (moment === null ? null : new Date(moment).toISOString())

/** @throws {Problem} NOT_FOUND */
export async function runViewModel(ctx: Context, id: number): Promise<RunViewModel> {
  const [run, snapshot, caseRuns, attempts, failures, agents] = await Promise.all([
    runRow(ctx.db, id),
    runSnapshot(ctx.db, id),
    caseRunsOf(ctx.db, id),
    lanesOf(ctx.db, id),
    failuresOf(ctx.db, id),
    listAgents(ctx.db, ctx.leaseMs),
  ])
  if (!run || !snapshot) throw new Problem('NOT_FOUND', `There is no run ${id}.`)
  const environments = snapshot.environments.map(({ key, title, simulated, width, height }) => ({
    key,
    title,
    simulated,
    narrow: height > width,
  }))
  return {
    run: {
      ...runLine(run),
      stage: run.stage,
      retries: run.retries,
      limitMs: run.limitMs,
      againOf: run.againOf,
      commit: snapshot.commit,
      kind: run.kind,
      goneAt: run.goneAt ? new Date(run.goneAt).toISOString() : null,
      rotationKey: run.rotationKey,
      endedWhy: run.endedWhy,
    },
    forecast: run.forecast,
    seats: seatsOf(agents, id),
    suiteTitle: snapshot.suite.title,
    environments,
    groups: gridOf(
      caseRuns,
      environments.map(({ key }) => key),
    ),
    lanes: lanes(attempts.map((attempt) => ({ ...attempt, from: iso(attempt.from)!, to: iso(attempt.to) }))),
    leftOut: snapshot.leftOut,
    ...(snapshot.resultSuites && { resultSuites: snapshot.resultSuites }),
    shares: run.kind === 'guided' ? await guidedShares(ctx.db, id) : [],
    failures: failures.map(({ attemptId }) => attemptId),
  }
}

export const comparisonsViewModel = (ctx: Context, id: number): Promise<Comparison[]> =>
  comparisonsOf(ctx.db, id)

/** @throws {Problem} NOT_FOUND */
export async function runProgress(ctx: Context, id: number): Promise<RunProgress> {
  const run = await runRow(ctx.db, id)
  if (!run) throw new Problem('NOT_FOUND', `There is no run ${id}.`)
  const { state, counts } = runLine(run)
  return { state, counts }
}

/** @throws {Problem} NOT_FOUND */
export async function attemptViewModel(ctx: Context, id: string): Promise<AttemptViewModel> {
  const context = await attemptContext(ctx, id)
  const { attempt, caseRun, frozen } = context
  const [head, siblings, failures, good, defects, others, marked] = await Promise.all([
    askLogOf(ctx, context, { ask: 'head' }),
    attemptsOf(ctx.db, caseRun.id),
    failuresOf(ctx.db, caseRun.runId),
    lastGood(ctx.db, caseRun, attempt.claimedAt),
    defectsOfAttempt(ctx.db, id),
    otherAttempts(ctx.db, caseRun.caseKey, id),
    markedOf(ctx.db, id),
  ])
  const { environment, build, title: runTitle } = frozen
  const { facts, ms, notes, video, source, display, ...outline } = head
  return {
    id,
    title: caseRun.title,
    caseKey: caseRun.caseKey,
    runId: caseRun.runId,
    runTitle,
    build,
    byHand: frozen.kind === 'guided',
    agent: attempt.agentName,
    number: attempt.number,
    environment: {
      key: environment.key,
      title: environment.title,
      width: environment.width,
      height: environment.height,
      simulated: environment.simulated,
    },
    row:
      caseRun.row && caseRun.rowIndex !== null
        ? { index: caseRun.rowIndex, of: caseRun.rowCount ?? 1, values: caseRun.row }
        : null,
    mark: markOf(attempt),
    startedAt: iso(attempt.startedAt),
    facts,
    ms,
    role: attempt.role,
    attempts: siblings.map((sibling) => ({
      id: sibling.id,
      number: sibling.number,
      role: sibling.role,
      ...timesOf(sibling, attempt.startedAt),
      mark: markOf(sibling),
      kind: sibling.failureKind,
    })),
    outline,
    notes,
    video,
    source,
    display,
    live: frozen.live && attempt.state !== 'ended',
    failures: failures.map(({ attemptId }) => attemptId),
    lastGood: good ?? null,
    others: others.map(({ outcome, ...other }) => ({ ...other, mark: outcome as Mark })),
    marked: marked.map(({ attemptId: _, markedAt, ...one }) => ({
      ...one,
      markedAt: markedAt.toISOString(),
    })),
    pinnedBy: attempt.pinnedBy,
    dropped: attempt.dropped,
    lateResult: attempt.lateResult,
    defects: defects.map(({ id: defectId, title, trackerNumber, state }) => ({
      id: defectId,
      title,
      number: trackerNumber,
      state,
    })),
  }
}

/** On the time of another attempt. */
function timesOf(
  { startedAt, endedAt }: { startedAt: Date | null; endedAt: Date | null },
  origin: Date | null,
): { startMs: number | null; ms: number } {
  if (startedAt === null) return { startMs: null, ms: 0 }
  return {
    startMs: startedAt.getTime() - (origin ?? startedAt).getTime(),
    ms: (endedAt ?? new Date()).getTime() - startedAt.getTime(),
  }
}

const ALL = { fold: false, only: null } as const

/** An attempt with the line its reader begins at.
 * @param asked the path of a line, or the hash of a screen whose line is meant @throws {Problem} NOT_FOUND */
export async function readerStart(
  ctx: Context,
  id: string,
  asked: { path?: string | undefined; screen?: string | undefined } = {},
): Promise<ReaderStart> {
  const attempt = await attemptViewModel(ctx, id)
  const shown =
    asked.screen === undefined
      ? undefined
      : await askLog(ctx, id, { ask: 'path-of-screen', hash: asked.screen })
  for (const wanted of [asked.path, shown, attempt.outline.start]) {
    if (wanted === undefined || wanted === null) continue
    const answer = await askLog(ctx, id, { ask: 'line', path: wanted, ...ALL })
    if (!answer) continue
    const from = Math.floor(answer.index / LINES_PAGE) * LINES_PAGE
    const around = await askLog(ctx, id, { ask: 'window', from, count: LINES_PAGE, find: '', ...ALL })
    return { attempt, first: { path: wanted, answer, around } }
  }
  return { attempt, first: undefined }
}

/** Of attempts without an outcome. */
const MARKS_OF_STATES: Record<AttemptState, Mark> = {
  assigned: 'claimed',
  claimed: 'claimed',
  running: 'running',
  ended: 'errored',
}

/** An attempt that passed after a recovery rule is recovered, as its case run will be. */
const markOf = ({
  outcome,
  state,
  recoveries,
}: {
  outcome: Mark | null
  state: AttemptState
  recoveries: readonly unknown[]
}): Mark => (outcome === 'passed' && recoveries.length > 0 ? 'recovered' : outcome) ?? MARKS_OF_STATES[state]

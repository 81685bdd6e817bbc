import { outlineOf, type AttemptState, type Mark } from '@/core/execution'
import {
  gridOf,
  lanesOf as lanes,
  type AttemptViewModel,
  type Comparison,
  type RunProgress,
  type RunViewModel,
} from '@/core/view-models'
import { listAgents } from '@/db/agents'
import { attemptsOf } from '@/db/endings'
import { defectsOfAttempt } from '@/db/defects'
import {
  caseRunsOf,
  comparisonsOf,
  eventsOf,
  failuresOf,
  lanesOf,
  runViewModel as runRow,
  runSnapshot,
} from '@/db/runs'
import { lastGood, otherAttempts } from '@/db/case-history'
import type { Context } from '../context'
import { Problem } from '../http/problems'
import { runLine, seatsOf } from './now'
import { attemptContext } from '../attempt-context'

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
  const { attempt, caseRun, frozen, testCase } = await attemptContext(ctx, id)
  const [events, siblings, failures, good, defects, others] = await Promise.all([
    eventsOf(ctx.db, id),
    attemptsOf(ctx.db, caseRun.id),
    failuresOf(ctx.db, caseRun.runId),
    lastGood(ctx.db, caseRun, attempt.claimedAt),
    defectsOfAttempt(ctx.db, id),
    otherAttempts(ctx.db, caseRun.caseKey, id),
  ])
  const { routines, environment, build, title: runTitle } = frozen
  const started = events.find((event) => event.type === 'started')
  const video = events.find((event) => event.type === 'evidence' && event.kind === 'video')
  const source = events.find((event) => event.type === 'evidence' && event.kind === 'page-source')
  return {
    id,
    title: caseRun.title,
    caseKey: caseRun.caseKey,
    runId: caseRun.runId,
    runTitle,
    build,
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
    facts: started?.type === 'started' ? started.facts : {},
    ms: events.reduce((most, { atMs }) => Math.max(most, atMs), 1),
    role: attempt.role,
    attempts: siblings.map((sibling) => ({
      id: sibling.id,
      number: sibling.number,
      role: sibling.role,
      mark: markOf(sibling),
      kind: sibling.failureKind,
    })),
    lines: outlineOf(testCase, Object.values(routines), events),
    notes: events.flatMap((event) => (event.type === 'note' ? [{ atMs: event.atMs, text: event.text }] : [])),
    video: video?.type === 'evidence' ? { hash: video.hash, startMs: video.startMs ?? 0 } : null,
    source: source?.type === 'evidence' ? source.hash : null,
    failures: failures.map(({ attemptId }) => attemptId),
    lastGood: good ?? null,
    others: others.map(({ outcome, ...other }) => ({ ...other, mark: outcome as Mark })),
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

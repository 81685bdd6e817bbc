import type { LiveSessionViewModel, LiveStandingViewModel } from '@/core/view-models'
import { attemptRow } from '@/db/runs'
import { runWaitingForSeatOf } from '@/db/seat-wanted'
import { attemptContext } from '../attempt-context'
import type { Context } from '../context'
import { loadLibrary } from '../definitions'
import { Problem } from '../http/problems'
import { benchViewModel } from './bench'

/** @throws {Problem} NOT_FOUND: there is no such session, or its case is not there any more */
export async function liveSessionViewModel(ctx: Context, id: string): Promise<LiveSessionViewModel> {
  const { attempt, caseRun, frozen } = await attemptContext(ctx, id)
  if (!frozen.live) throw new Problem('NOT_FOUND', 'This is no live session.')
  const { key, title, width, height } = frozen.environment
  const { routines } = await loadLibrary(ctx)
  return {
    attemptId: id,
    runId: caseRun.runId,
    caseKey: caseRun.caseKey,
    title: caseRun.title,
    build: frozen.build,
    agent: attempt.agentName,
    environment: { key, title, width, height },
    applications: Object.keys(frozen.applications).sort(),
    routines: [...routines.values()].map((routine) => ({
      key: routine.key,
      title: routine.title,
      parameters: Object.keys(routine.parameters),
      steps: routine.steps,
    })),
    row: caseRun.rowIndex,
    ended: attempt.state === 'ended',
    bench: await benchViewModel(ctx, 'case', caseRun.caseKey),
  }
}

/** How a session stands while it goes on. @throws {Problem} NOT_FOUND */
export async function liveStandingViewModel(
  { db, now, leaseMs }: Pick<Context, 'db' | 'now' | 'leaseMs'>,
  id: string,
): Promise<LiveStandingViewModel> {
  const attempt = await attemptRow(db, id)
  if (!attempt) throw new Problem('NOT_FOUND', 'There is no such attempt.')
  const over = attempt.state === 'ended'
  return { over, wantedBy: (!over && (await runWaitingForSeatOf(db, id, now, leaseMs))) || null }
}

import type { LiveSessionViewModel } from '@/core/view-models'
import { attemptContext } from '../attempt-context'
import type { Context } from '../context'
import { Problem } from '../http/problems'
import { benchViewModel } from './bench'

/** @throws {Problem} NOT_FOUND: there is no such session, or its case is not there any more */
export async function liveSessionViewModel(ctx: Context, id: string): Promise<LiveSessionViewModel> {
  const { attempt, caseRun, frozen } = await attemptContext(ctx, id)
  if (!frozen.live) throw new Problem('NOT_FOUND', 'This is no live session.')
  const { key, title, width, height } = frozen.environment
  return {
    attemptId: id,
    runId: caseRun.runId,
    caseKey: caseRun.caseKey,
    title: caseRun.title,
    build: frozen.build,
    agent: attempt.agentName,
    environment: { key, title, width, height },
    applications: Object.keys(frozen.applications).sort(),
    ended: attempt.state === 'ended',
    bench: await benchViewModel(ctx, 'case', caseRun.caseKey),
  }
}

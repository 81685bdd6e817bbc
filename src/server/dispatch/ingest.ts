import type { NumberedEvent } from '@/core/execution'
import { sentenceText } from '@/core/model'
import { addEvents, lockHeld, noteProgress, noteRecoveries } from '@/db/dispatch'
import { notify } from '@/db/notify'
import type { Context } from '../context'
import { Problem } from '../http/problems'

/** Stores a batch of an attempt's events. Sending a batch twice stores it once. @throws {Problem} LEASE_LOST */
export async function ingestEvents(ctx: Context, attemptId: string, lease: number, batch: NumberedEvent[]): Promise<void> {
  await ctx.db.transaction(async (tx) => {
    const attempt = await lockHeld(tx, { attemptId, lease })
    if (!attempt) throw new Problem('LEASE_LOST')
    await addEvents(tx, attemptId, batch)
    await noteProgress(tx, attempt, progressOf(batch), ctx.now)
    await noteRecoveries(tx, attempt, batch.flatMap((event) => (event.type === 'recovery-ended' ? [{ no: event.no, rule: event.rule, result: event.result, ms: event.ms, path: event.at, kind: event.kind, resume: event.resume, ...(event.message !== undefined && { message: event.message }), ...(event.tag !== undefined && { tag: event.tag }), ...(event.application !== undefined && { application: event.application }) }] : [])))
    await notify(tx, 'attempt', attemptId)
    await notify(tx, 'run', attempt.runId)
  })
}

/** Where the attempt is, for those who watch: its newest step and screen. */
function progressOf(batch: NumberedEvent[]): { atStep?: string; screen?: string } {
  const step = batch.findLast((event) => event.type === 'step-started')
  const screen = batch.findLast((event) => event.type === 'screen')
  return { ...(step && { atStep: sentenceText({ ...step.words, detail: '' }) }), ...(screen && { screen: screen.hash }) }
}

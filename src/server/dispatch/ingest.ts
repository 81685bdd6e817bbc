import type { NumberedEvent } from '@/core/execution'
import { sentenceText } from '@/core/model'
import type { Tx } from '@/db/client'
import { addEvents, isHeld, lockHeld, noteProgress, noteRecoveries, type Hold } from '@/db/dispatch'
import type { Recovery } from '@/db/schema'
import type { Context } from '../context'
import { Problem } from '../http/problems'

/** Stores a batch of an attempt's events. Sending a batch twice stores it once. @throws {Problem}
 * LEASE_LOST */
export async function ingestEvents(ctx: Context, hold: Hold, batch: NumberedEvent[]): Promise<void> {
  const stored = await ctx.db.transaction((tx) => storeEvents(tx, ctx, hold, batch))
  if (!stored) throw new Problem('LEASE_LOST')
}

/** @throws {Problem} LEASE_LOST */
export async function requireHeld(ctx: Context, hold: Hold): Promise<void> {
  if (!(await isHeld(ctx.db, hold))) throw new Problem('LEASE_LOST')
}

/** @returns false when it is not held any more; then nothing was written */
export async function storeEvents(
  tx: Tx,
  ctx: Context,
  hold: Hold,
  batch: NumberedEvent[],
): Promise<boolean> {
  const attempt = await lockHeld(tx, hold)
  if (!attempt) return false
  await addEvents(tx, attempt.id, batch)
  await noteProgress(tx, attempt, progressOf(batch), ctx.now)
  const recoveries = batch.flatMap(recoveryIn)
  if (recoveries.length > 0) await noteRecoveries(tx, attempt, recoveries)
  ctx.notifier.send('attempt', attempt.id)
  ctx.notifier.send('run', attempt.runId)
  return true
}

function recoveryIn(event: NumberedEvent): Recovery[] {
  if (event.type !== 'recovery-ended') return []
  const { no, rule, result, ms, at: path, kind, resume, message, tag, application } = event
  return [
    {
      no,
      rule,
      result,
      ms,
      path,
      kind,
      resume,
      ...(message !== undefined && { message }),
      ...(tag !== undefined && { tag }),
      ...(application !== undefined && { application }),
    },
  ]
}

/** Where the attempt is, for those who watch: its newest step and screen. */
export function progressOf(batch: readonly NumberedEvent[]): { atStep?: string; screen?: string } {
  const step = batch.findLast((event) => event.type === 'step-started')
  const screen = batch.findLast((event) => event.type === 'screen')
  return {
    ...(step && { atStep: sentenceText({ ...step.words, detail: '' }) }),
    ...(screen && { screen: screen.hash }),
  }
}

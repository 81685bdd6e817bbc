import { markPaused } from '@/db/dispatch'
import { cancelRun as cancel, setRunPaused } from '@/db/run-states'
import { note } from '@/db/audit'
import { notify } from '@/db/notify'
import type { Context } from '../context'
import { Problem } from '../http/problems'
import { validator } from '../http/validator'

export const cancelBody = validator({
  type: 'object',
  additionalProperties: false,
  properties: { undo: { type: 'boolean' } },
})

/** Cancels a run: what waits ends now, what is with an agent ends when the agent hears of it.
 * @param undo whether what was begun is put back; without, what it made stays to be looked at
 * @throws {Problem} RUN_ENDED */
export async function cancelRun(
  ctx: Context,
  runId: number,
  who: string,
  { undo = true }: { undo?: boolean } = {},
): Promise<void> {
  await ctx.db.transaction(async (tx) => {
    if (!(await cancel(tx, runId, ctx.now, { noUndo: !undo })))
      throw new Problem('RUN_ENDED', 'The run has ended or is being cancelled already.')
    await note(tx, who, 'run.cancel', String(runId), { undo })
    await notify(tx, 'run', runId)
  })
}

/** Nothing of a paused run is begun, and what runs waits before its next step; or it goes on. @throws
 * {Problem} RUN_ENDED */
export async function pauseRun(ctx: Context, runId: number, paused: boolean, who: string): Promise<void> {
  await ctx.db.transaction(async (tx) => {
    if (!(await setRunPaused(tx, runId, paused)))
      throw new Problem('RUN_ENDED', 'The run has ended or is being cancelled already.')
    await markPaused(tx, { runId })
    await note(tx, who, paused ? 'run.pause' : 'run.go-on', String(runId))
    await notify(tx, 'run', runId)
    await notify(tx, 'work')
  })
}

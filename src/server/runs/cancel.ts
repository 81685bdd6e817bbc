import { cancelRun as cancel } from '@/db/dispatch'
import { note } from '@/db/defects'
import { notify } from '@/db/notify'
import type { Context } from '../context'
import { Problem } from '../http/problems'

/** Cancels a run: what waits ends now, what is with an agent ends when the agent hears of it. @throws {Problem} RUN_ENDED */
export async function cancelRun(ctx: Context, runId: number, who: string): Promise<void> {
  await ctx.db.transaction(async (tx) => {
    if (!(await cancel(tx, runId, ctx.now))) throw new Problem('RUN_ENDED', 'The run has ended or is being cancelled already.')
    await note(tx, who, 'run.cancel', String(runId))
    await notify(tx, 'run', runId)
  })
}

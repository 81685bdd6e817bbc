/** Where defects stand at the tracker: asked again and again, as a background job. */
import { sql } from 'drizzle-orm'
import { defectsToRead, noteTrackerState, noteTrackerTitle } from '@/db/defects'
import { notify } from '@/db/notify'
import type { Context } from '../context'
import { standingAtTracker, TrackerProblem } from './tracker'

export const READ_TRACKER = 'read-tracker'
/** Each open one is asked for about this often; so many at a time, for so long at the most. */
const [EVERY_MS, AT_ONCE, LIMIT_MS] = [60_000, 40, 45_000]

/** Hands the asking to the worker, where there is something to ask. One job at a time. */
export async function enqueueTrackerReads(ctx: Pick<Context, 'db' | 'now'>): Promise<void> {
  const due = await defectsToRead(ctx.db, ctx.now, EVERY_MS, 1)
  if (due.length === 0) return
  await ctx.db.execute(
    sql`select graphile_worker.add_job(${READ_TRACKER}, job_key => ${READ_TRACKER}, max_attempts => 1)`,
  )
}

/** Whether it is called there otherwise than when that was last looked at. A tracker may cut long titles. */
const isOther = (there: string, { title, trackerTitle }: { title: string; trackerTitle: string | null }) =>
  there !== (trackerTitle ?? title) && (trackerTitle !== null || !title.startsWith(there))

/** The job. A tracker that is not there just now is asked again later.
 * @returns how many stand elsewhere than they did */
export async function readTrackerStates(ctx: Pick<Context, 'db' | 'now'>): Promise<number> {
  const end = performance.now() + LIMIT_MS
  let changed = 0
  for (const { id, number, ...before } of await defectsToRead(ctx.db, ctx.now, EVERY_MS, AT_ONCE)) {
    if (performance.now() > end) break
    try {
      const { state, title } = await standingAtTracker(ctx, number!)
      const isNewTitle = title !== undefined && isOther(title, before)
      if (isNewTitle) await noteTrackerTitle(ctx.db, id, title)
      await noteTrackerState(ctx.db, id, ctx.now, state)
      if ((state === undefined || state === before.state) && !isNewTitle) continue
      changed++
      await notify(ctx.db, 'defects', id)
    } catch (error) {
      if (!(error instanceof TrackerProblem)) throw error
      break
    }
  }
  return changed
}

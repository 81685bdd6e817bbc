/** Sending is a background job: a tracker or a mail server that is down delays a defect, it does not lose
 * it. */
import { sql } from 'drizzle-orm'
import type { Conn } from '@/db/client'
import { defectById, noteSendProblem, noteSent } from '@/db/defects'
import { notify } from '@/db/notify'
import type { Context } from '../context'
import { MailProblem } from '../mail'
import { enqueueAttaching } from './attach'
import { mailDefect } from './mailing'
import { sendToTracker, TrackerProblem } from './tracker'

export const SEND_DEFECT = 'send-defect'
/** graphile-worker waits e^try seconds between tries, at most some hours: a tracker down over a weekend is
 * still served. */
const TRIES_MOST = 25

/** Hands defects to the worker. One job a defect; asking again while one waits makes it due now. */
export async function enqueueSends(db: Conn, defectIds: readonly number[]): Promise<void> {
  await db.execute(
    sql`select graphile_worker.add_job(${SEND_DEFECT},
      payload => json_build_object('defectId', id),
      job_key => ${`${SEND_DEFECT}-`} || id, max_attempts => ${TRIES_MOST})
      from unnest(${sql.param([...defectIds])}::int[]) id`,
  )
}
export const enqueueSend = (db: Conn, defectId: number): Promise<void> => enqueueSends(db, [defectId])

/** The job. @throws {TrackerProblem} {MailProblem} so that the queue tries again later; what went wrong is
 * kept with the defect */
export async function sendDefect(ctx: Context, defectId: number): Promise<void> {
  const defect = await defectById(ctx.db, defectId)
  if (!defect || defect.state !== 'to-send') return
  try {
    if (defect.mailTo === null) {
      await noteSent(ctx.db, defectId, await sendToTracker(ctx, defect))
      if (defect.evidence.length > 0) await enqueueAttaching(ctx.db, defectId)
    } else {
      await mailDefect(ctx, defect, defect.mailTo)
      await noteSent(ctx.db, defectId, null)
    }
  } catch (error) {
    if (!(error instanceof TrackerProblem || error instanceof MailProblem)) throw error
    await noteSendProblem(ctx.db, defectId, error.message)
    throw error
  } finally {
    await notify(ctx.db, 'defects', defectId)
  }
}

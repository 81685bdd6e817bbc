/** What people say of a defect at the tracker: kept, sent in their order as a background job, never twice. */
import { sql } from 'drizzle-orm'
import type { TrackerMessageViewModel } from '@/core/view-models'
import { note } from '@/db/audit'
import { defectById, noteTrackerState } from '@/db/defects'
import { notify } from '@/db/notify'
import {
  addTrackerMessage,
  nextTrackerMessage,
  noteMessageProblem,
  noteMessageSent,
  trackerMessagesOf,
} from '@/db/tracker-messages'
import type { Context } from '../context'
import { Problem } from '../http/problems'
import { validatorOf } from '../http/validator'
import { sayAtTracker, TrackerProblem } from './tracker'

export const SAY_AT_TRACKER = 'say-at-tracker'
const [TEXT_MOST, SHOWN_MOST, TRIES_MOST] = [10_000, 500, 25]

/** `state`: what it is to become there. */
export type SaidOfDefect = { text: string; state?: 'open' | 'closed' }
export const messageBody = validatorOf<SaidOfDefect>()({
  type: 'object',
  additionalProperties: false,
  required: ['text'],
  properties: {
    text: { type: 'string', minLength: 1, maxLength: TEXT_MOST, pattern: '\\S' },
    state: { enum: ['open', 'closed'] },
  },
})

export const messagesViewModel = async (
  { db }: Pick<Context, 'db'>,
  defectId: number,
): Promise<TrackerMessageViewModel[]> =>
  (await trackerMessagesOf(db, defectId, SHOWN_MOST)).map(
    ({ id, text, state, saidBy, saidAt, sentAt, tries, problem }) => ({
      id,
      text,
      state,
      by: saidBy,
      at: saidAt.toISOString(),
      sentAt: sentAt?.toISOString() ?? null,
      tries,
      problem,
    }),
  )

/** Keeps it, and hands it to the worker.
 * @throws {Problem} NOT_FOUND; BODY_INVALID: the tracker does not have this defect */
export async function sayOfDefect(
  ctx: Context,
  defectId: number,
  { text, state }: SaidOfDefect,
  who: string,
): Promise<void> {
  const defect = await defectById(ctx.db, defectId)
  if (!defect) throw new Problem('NOT_FOUND', 'There is no such defect.')
  if (defect.trackerNumber === null)
    throw new Problem('BODY_INVALID', 'The tracker does not have this defect: send it there first.')
  await ctx.db.transaction(async (tx) => {
    await addTrackerMessage(tx, { defectId, text, state: state ?? null, saidBy: who })
    await tx.execute(sql`
      select graphile_worker.add_job(${SAY_AT_TRACKER}, payload => json_build_object('defectId', ${defectId}::int),
        job_key => ${`${SAY_AT_TRACKER}-${defectId}`}, queue_name => ${`${SAY_AT_TRACKER}-${defectId}`},
        max_attempts => ${TRIES_MOST})`)
    await note(tx, who, 'defect.say', String(defectId), { ...(state && { state }) })
    await notify(tx, 'defects', defectId)
  })
}

/** The job: all that waits of a defect, one after the other.
 * @throws {TrackerProblem} so that the queue tries again later; what went wrong is kept with the message */
export async function sendMessages(ctx: Pick<Context, 'db' | 'now'>, defectId: number): Promise<void> {
  const defect = await defectById(ctx.db, defectId)
  if (!defect?.trackerNumber) return
  for (;;) {
    const message = await nextTrackerMessage(ctx.db, defectId)
    if (!message) return
    const { id, text, state, saidBy, saidAt } = message
    try {
      await sayAtTracker(ctx, defect.trackerNumber, {
        // a database that begins anew counts from the beginning
        key: `oak-message-${id}-${saidAt.getTime()}`,
        text: `${text}\n\n(${saidBy})`,
        ...(state && { state }),
      })
      await noteMessageSent(ctx.db, id, ctx.now)
      if (state) await noteTrackerState(ctx.db, defectId, ctx.now, state)
    } catch (error) {
      if (!(error instanceof TrackerProblem)) throw error
      await noteMessageProblem(ctx.db, id, error.message)
      throw error
    } finally {
      await notify(ctx.db, 'defects', defectId)
    }
  }
}

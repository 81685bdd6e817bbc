/** What people say of a defect at the tracker: kept, sent in their order as a background job, never twice. */
import { sql } from 'drizzle-orm'
import type { TrackerMessageViewModel } from '@/core/view-models'
import { note } from '@/db/audit'
import type { Conn } from '@/db/client'
import { defectById, noteTrackerState, type DefectRow } from '@/db/defects'
import { notify } from '@/db/notify'
import {
  addTrackerMessages,
  insistOnMessage,
  nextTrackerMessage,
  noteConflict,
  noteMessageProblem,
  noteMessageSent,
  trackerMessagesOf,
  waitingStates,
  withdrawMessage,
  type TrackerMessageRow,
} from '@/db/tracker-messages'
import type { Context } from '../context'
import type { FailureOf } from './failure-of'
import { Problem } from '../http/problems'
import { validatorOf } from '../http/validator'
import { sayAtTracker, standingAtTracker, stateThere, TrackerProblem } from './tracker'

export const SAY_AT_TRACKER = 'say-at-tracker'
const [TEXT_MOST, SHOWN_MOST, TRIES_MOST] = [10_000, 500, 25]

/** `state`: what it is to become there; `assignee`: who it is given to, as people are called here. */
export type SaidOfDefect = { text: string; state?: 'open' | 'closed'; assignee?: string }
export const messageSchema = {
  type: 'object',
  additionalProperties: false,
  required: ['text'],
  properties: {
    text: { type: 'string', minLength: 1, maxLength: TEXT_MOST, pattern: '\\S' },
    state: { enum: ['open', 'closed'] },
    assignee: { type: 'string', minLength: 1, maxLength: 100 },
  },
} as const
export const messageBody = validatorOf<SaidOfDefect>()(messageSchema)

export const messagesViewModel = async (
  { db }: Pick<Context, 'db'>,
  defectId: number,
): Promise<TrackerMessageViewModel[]> =>
  (await trackerMessagesOf(db, defectId, SHOWN_MOST)).map(
    ({ id, text, state, assignee, otherState, seenState, saidBy, saidAt, sentAt, tries, problem }) => ({
      id,
      text,
      state,
      assignee,
      conflict: otherState === null ? null : { seen: seenState ?? '', now: otherState },
      by: saidBy,
      at: saidAt.toISOString(),
      sentAt: sentAt?.toISOString() ?? null,
      tries,
      problem,
    }),
  )

/** Keeps it, and hands it to the worker.
 * @param of the failure that it tells of
 * @returns whether it is new: a failure is told of once
 * @throws {Problem} NOT_FOUND; BODY_INVALID: the tracker does not have this defect */
export async function sayOfDefect(
  ctx: Context,
  defectId: number,
  { text, state, assignee }: SaidOfDefect,
  who: string,
  { attemptId, caseRunId }: FailureOf = {},
): Promise<boolean> {
  const defect = await defectById(ctx.db, defectId)
  if (!defect) throw new Problem('NOT_FOUND', 'There is no such defect.')
  if (defect.trackerNumber === null)
    throw new Problem('BODY_INVALID', 'The tracker does not have this defect: send it there first.')
  return ctx.db.transaction(async (tx) => {
    const message = {
      defectId,
      text,
      state: state ?? null,
      seenState: state ? ((await expectedStates(tx, [defect])).get(defectId) ?? null) : null,
      assignee: assignee ?? null,
      saidBy: who,
      attemptId: attemptId ?? null,
      caseRunId: caseRunId ?? null,
    }
    if (!(await addTrackerMessages(tx, [message]))) return false
    await enqueueMessages(tx, [defectId])
    await note(tx, who, 'defect.say', String(defectId), { ...(state && { state }) })
    await notify(tx, 'defects', defectId)
    return true
  })
}

/** Where each stands at the tracker by the time a new message gets there: those that wait come before it. */
export async function expectedStates(
  db: Conn,
  defects: readonly Pick<DefectRow, 'id' | 'trackerState'>[],
): Promise<ReadonlyMap<number, string>> {
  const waiting = await waitingStates(
    db,
    defects.map(({ id }) => id),
  )
  const [open, closed] = await Promise.all([stateThere({ db }, 'open'), stateThere({ db }, 'closed')])
  const words = { open, closed }
  return new Map(
    defects.flatMap(({ id, trackerState }) => {
      const next = waiting.get(id)
      const state = next ? words[next] : trackerState
      return state === null ? [] : [[id, state]]
    }),
  )
}

/** Hands what waits of defects to the worker. One job a defect, and one at a time. */
export async function enqueueMessages(db: Conn, defectIds: readonly number[]): Promise<void> {
  await db.execute(sql`
    select graphile_worker.add_job(${SAY_AT_TRACKER}, payload => json_build_object('defectId', id),
      job_key => ${`${SAY_AT_TRACKER}-`} || id, queue_name => ${`${SAY_AT_TRACKER}-`} || id,
      max_attempts => ${TRIES_MOST})
    from unnest(${sql.param([...defectIds])}::int[]) id`)
}

/** The job: all that waits of a defect, one after the other.
 * @throws {TrackerProblem} so that the queue tries again later; what went wrong is kept with the message */
export async function sendMessages(ctx: Pick<Context, 'db' | 'now'>, defectId: number): Promise<void> {
  const defect = await defectById(ctx.db, defectId)
  if (!defect?.trackerNumber) return
  for (;;) {
    const message = await nextTrackerMessage(ctx.db, defectId)
    if (!message) return
    const { id, text, state, assignee, saidBy, saidAt } = message
    try {
      if (await isHeldBack(ctx, defect.trackerNumber, message)) return
      await sayAtTracker(ctx, defect.trackerNumber, {
        // a database that begins anew counts from the beginning
        key: `oak-message-${id}-${saidAt.getTime()}`,
        text: `${text}\n\n(${saidBy})`,
        ...(state && { state }),
        ...(assignee !== null && { assignee }),
      })
      await noteMessageSent(ctx.db, id, ctx.now)
      if (state) await noteTrackerState(ctx.db, defectId, ctx.now, await stateThere(ctx, state))
    } catch (error) {
      if (!(error instanceof TrackerProblem)) throw error
      await noteMessageProblem(ctx.db, id, error.message)
      throw error
    } finally {
      await notify(ctx.db, 'defects', defectId)
    }
  }
}

/** A message that changes the state waits where the tracker has another one than its sender saw, and not yet
 * the wanted one: so nobody undoes unseen what somebody else did there. Those after it wait with it.
 * @throws {TrackerProblem} */
async function isHeldBack(
  ctx: Pick<Context, 'db'>,
  number: string,
  { id, state, seenState, otherState }: TrackerMessageRow,
): Promise<boolean> {
  if (otherState !== null) return true
  if (state === null || seenState === null) return false
  const { state: now } = await standingAtTracker(ctx, number)
  // where it stands as wanted, an answer may have been lost: said once more it adds nothing
  if (now === undefined || now === seenState || now === (await stateThere(ctx, state))) return false
  await noteConflict(ctx.db, id, now)
  return true
}

/** Of a message that waits: it is not said, or said whatever the tracker has by now.
 * @throws {Problem} NOT_FOUND: it was said meanwhile, or is gone */
export async function settleMessage(
  ctx: Pick<Context, 'db'>,
  { defectId, messageId, how }: { defectId: number; messageId: number; how: 'withdraw' | 'insist' },
  who: string,
): Promise<void> {
  await ctx.db.transaction(async (tx) => {
    const settle = how === 'withdraw' ? withdrawMessage : insistOnMessage
    if (!(await settle(tx, defectId, messageId)))
      throw new Problem('NOT_FOUND', 'It does not wait any more: it was said, or somebody withdrew it.')
    await enqueueMessages(tx, [defectId])
    await note(tx, who, `defect.say-${how}`, String(defectId))
    await notify(tx, 'defects', defectId)
  })
}

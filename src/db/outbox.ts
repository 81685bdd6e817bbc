/** What waits to be sent: defects, and what is said of them. Their jobs are found by their keys. */
import { sql } from 'drizzle-orm'
import type { Conn } from './client'
import { col, rowsOf } from './rows'

/** The oldest first. Served by defects_to_send and tracker_messages_waiting.
 * @param keys how the keys of the jobs begin, for defects and for messages */
export const waitingToBeSent = (db: Conn, keys: { defect: string; message: string }, most: number) =>
  rowsOf(
    db,
    {
      defectId: col.integer,
      title: col.text,
      messageId: col.orNull(col.integer),
      text: col.orNull(col.text),
      state: col.orNull(col.text),
      seenState: col.orNull(col.text),
      otherState: col.orNull(col.text),
      mailTo: col.orNull(col.text),
      by: col.text,
      since: col.instant,
      tries: col.integer,
      problem: col.orNull(col.text),
      nextAt: col.orNull(col.instant),
    },
    sql`
    select w.*, j.run_at as "nextAt" from (
      select d.id as "defectId", d.title, null::int as "messageId", null as text, null as state,
        null as "seenState", null as "otherState", d.mail_to as "mailTo", d.created_by as by,
        d.created_at as since, d.send_tries as tries, d.send_problem as problem,
        ${keys.defect} || d.id as key
      from defects d where d.state = 'to-send'
      union all
      select d.id, d.title, m.id, m.text, m.state, m.seen_state, m.other_state, null, m.said_by, m.said_at,
        m.tries, m.problem, ${keys.message} || d.id
      from tracker_messages m join defects d on d.id = m.defect_id where m.sent_at is null) w
    left join graphile_worker.jobs j on j.key = w.key and j.attempts < j.max_attempts
    order by w.since, w."messageId" nulls first limit ${most}`,
  )

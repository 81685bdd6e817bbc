import { and, desc, eq, inArray, ne, sql } from 'drizzle-orm'
import type { Conn, Tx } from './client'
import type { Now } from './moment'
import { col, rowsOf } from './rows'
import { defects, defectStates, type DefectEvidence } from './schema'

export type DefectRow = typeof defects.$inferSelect
export type NewDefect = Omit<typeof defects.$inferInsert, 'id' | 'state' | 'trackerNumber' | 'createdAt'>
export type DefectText = Pick<DefectRow, 'title' | 'steps' | 'expected' | 'actual' | 'severity'>

export const addDefect = async (db: Conn, defect: NewDefect, now: Now): Promise<DefectRow> =>
  (
    await db
      .insert(defects)
      .values({ ...defect, createdAt: sql`${now}` })
      .returning()
  )[0]!
export const defectById = async (db: Conn, id: number): Promise<DefectRow | undefined> =>
  (await db.select().from(defects).where(eq(defects.id, id)))[0]
export const defectsByIds = async (db: Conn, ids: readonly number[]): Promise<DefectRow[]> =>
  ids.length === 0
    ? []
    : await db
        .select()
        .from(defects)
        .where(inArray(defects.id, [...ids]))
export const defectLines = async (
  db: Conn,
  ids: readonly number[],
): Promise<{ id: number; title: string; number: string | null }[]> =>
  ids.length === 0
    ? []
    : await db
        .select({ id: defects.id, title: defects.title, number: defects.trackerNumber })
        .from(defects)
        .where(inArray(defects.id, [...ids]))
export const listDefects = async (db: Conn, most = 500): Promise<DefectRow[]> =>
  await db.select().from(defects).orderBy(desc(defects.id)).limit(most)
/** Whoever takes over the same issue waits until this transaction is over. */
export const oneAtATime = async (tx: Tx, number: string): Promise<void> =>
  void (await tx.execute(sql`select pg_advisory_xact_lock(hashtextextended(${number}, 8))`))

export const defectsOfAttempt = async (db: Conn, attemptId: string): Promise<DefectRow[]> =>
  await db.select().from(defects).where(eq(defects.attemptId, attemptId)).orderBy(defects.id)
export const openDefectsOfCases = async (db: Conn, keys: string[]) =>
  keys.length === 0
    ? []
    : await db
        .select({ id: defects.id, caseKey: defects.caseKey, title: defects.title })
        .from(defects)
        .where(inArray(defects.caseKey, keys))

/** Changes the words if nobody changed them since `version`. @returns `undefined` when somebody did */
export const editDefect = async (
  db: Conn,
  id: number,
  version: number,
  text: DefectText,
): Promise<DefectRow | undefined> =>
  (
    await db
      .update(defects)
      .set({ ...text, version: version + 1 })
      .where(and(eq(defects.id, id), eq(defects.version, version), eq(defects.state, 'draft')))
      .returning()
  )[0]

/** Those drafts that nobody changed since `version`. @returns which they are */
export const changeSeverities = async (
  tx: Tx,
  edits: readonly { id: number; version: number; severity: DefectRow['severity'] }[],
): Promise<number[]> =>
  (
    await rowsOf(
      tx,
      { id: col.integer },
      sql`
      update defects d set severity = e.severity, version = d.version + 1
      from unnest(${sql.param(edits.map(({ id }) => id))}::int[], ${sql.param(edits.map(({ version }) => version))}::int[],
        ${sql.param(edits.map(({ severity }) => severity))}::text[]) as e(id, version, severity)
      where d.id = e.id and d.version = e.version and d.state = 'draft' returning d.id`,
    )
  ).map(({ id }) => id)

/** Hands those to the sender that have not been sent. @returns which they are */
export const markAllToSend = async (tx: Tx, ids: readonly number[]): Promise<number[]> =>
  (
    await tx
      .update(defects)
      .set({ state: 'to-send', sendProblem: null })
      .where(and(inArray(defects.id, [...ids]), ne(defects.state, 'sent')))
      .returning({ id: defects.id })
  ).map(({ id }) => id)

/** Hands a defect to the sender. Once sent it stays sent.
 * @param mailTo where it is mailed to; `null`: to the tracker; absent: where it was meant to go before */
export const markToSend = async (db: Conn, id: number, mailTo?: string | null): Promise<boolean> =>
  (
    await db
      .update(defects)
      .set({ state: 'to-send', sendProblem: null, ...(mailTo !== undefined && { mailTo }) })
      .where(and(eq(defects.id, id), ne(defects.state, 'sent')))
  ).rowCount === 1

/** @param tracker what the tracker said; `null`: it was mailed */
export async function noteSent(
  db: Conn,
  id: number,
  tracker: { number: string; state: string; url: string } | null,
): Promise<void> {
  await db
    .update(defects)
    .set({
      state: 'sent',
      ...(tracker && {
        trackerNumber: tracker.number,
        trackerState: tracker.state,
        trackerUrl: tracker.url,
      }),
      sentAt: sql`now()`,
      sendProblem: null,
      sendTries: sql`${defects.sendTries} + 1`,
    })
    .where(eq(defects.id, id))
  if (tracker) await db.insert(defectStates).values({ defectId: id, state: tracker.state })
}

export async function noteSendProblem(db: Conn, id: number, problem: string): Promise<void> {
  await db
    .update(defects)
    .set({ sendProblem: problem, sendTries: sql`${defects.sendTries} + 1` })
    .where(and(eq(defects.id, id), eq(defects.state, 'to-send')))
}

/** The tracker has so many pieces of its evidence. */
export const noteAttached = async (db: Conn, id: number, attached: number): Promise<void> =>
  void (await db.update(defects).set({ attached, attachProblem: null }).where(eq(defects.id, id)))

export const noteAttachProblem = async (db: Conn, id: number, attachProblem: string): Promise<void> =>
  void (await db.update(defects).set({ attachProblem }).where(eq(defects.id, id)))

/** Those that the tracker has under a number. Served by defects_of_number. */
export const defectsOfNumber = (db: Conn, number: string): Promise<{ id: number }[]> =>
  db.select({ id: defects.id }).from(defects).where(eq(defects.trackerNumber, number)).limit(20)

const toRead = sql`state = 'sent' and tracker_number is not null and tracker_state is distinct from 'closed'`

/** Those that the tracker may have news of, the longest not asked for first. Served by defects_to_read. */
export const defectsToRead = async (db: Conn, now: Now, everyMs: number, most: number) =>
  await db
    .select({
      id: defects.id,
      number: defects.trackerNumber,
      state: defects.trackerState,
      title: defects.title,
      trackerTitle: defects.trackerTitle,
    })
    .from(defects)
    .where(
      sql`${toRead} and (tracker_read_at is null or tracker_read_at < ${now} - ${everyMs} * interval '1 ms')`,
    )
    .orderBy(sql`${defects.trackerReadAt} asc nulls first`)
    .limit(most)

/** Adds what it does not have yet, as long as it has room. @returns whether there was any */
export async function addEvidence(
  tx: Tx,
  id: number,
  pieces: readonly DefectEvidence[],
  most: number,
): Promise<boolean> {
  const [row] = await tx
    .select({ evidence: defects.evidence })
    .from(defects)
    .where(eq(defects.id, id))
    .for('update')
  if (!row) return false
  const known = new Set(row.evidence.map(({ hash }) => hash))
  const fresh = pieces.filter(({ hash }) => !known.has(hash)).slice(0, Math.max(0, most - known.size))
  if (fresh.length === 0) return false
  await tx
    .update(defects)
    .set({ evidence: [...row.evidence, ...fresh] })
    .where(eq(defects.id, id))
  return true
}

/** Where it is called there as it is here, nothing is kept. */
export const noteTrackerTitle = async (db: Conn, id: number, title: string): Promise<void> =>
  void (await db
    .update(defects)
    .set({ trackerTitle: sql`nullif(${title}, ${defects.title})` })
    .where(eq(defects.id, id)))

/** @param state absent: it said nothing new */
export async function noteTrackerState(db: Conn, id: number, now: Now, state?: string): Promise<void> {
  await db.execute(
    state === undefined
      ? sql`update defects set tracker_read_at = ${now} where id = ${id}`
      : sql`
        with old as (select tracker_state from defects where id = ${id} for update),
          put as (update defects set tracker_read_at = ${now}, tracker_state = ${state} where id = ${id})
        insert into defect_states (defect_id, state, at)
        select ${id}, ${state}, ${now} from old where tracker_state is distinct from ${state}`,
  )
}

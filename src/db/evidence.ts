/** Pieces of evidence, the attempts that show them, and those whose retention time is over. */
import { and, asc, count, eq, gt, inArray, isNotNull, isNull, sql, sum, type SQL } from 'drizzle-orm'
import { evidenceOf, type NumberedEvent } from '@/core/execution'
import type { EvidenceKind } from '@/core/model'
import type { Conn, Tx } from './client'
import { dropLines } from './logs'
import type { Now } from './moment'
import { attempts, evidence, evidenceUses } from './schema'
import { col, rowsOf } from './rows'

export const evidenceRow = async (db: Conn, hash: string) =>
  (await db.select().from(evidence).where(eq(evidence.hash, hash)))[0]
export const evidenceRows = async (db: Conn, hashes: readonly string[]) =>
  await db
    .select()
    .from(evidence)
    .where(inArray(evidence.hash, [...hashes]))
export async function evidenceSize(db: Conn): Promise<{ pieces: number; bytes: number }> {
  const [row] = await db.select({ pieces: count(), bytes: sum(evidence.bytes) }).from(evidence)
  return { pieces: row!.pieces, bytes: Number(row!.bytes ?? 0) }
}

/** Pieces after this one, in the order of their names. */
export const evidencePage = async (
  db: Conn,
  after: string,
  most: number,
): Promise<{ hash: string; bytes: number }[]> =>
  await db
    .select({ hash: evidence.hash, bytes: evidence.bytes })
    .from(evidence)
    .where(and(gt(evidence.hash, after), isNull(evidence.droppedAt)))
    .orderBy(asc(evidence.hash))
    .limit(most)

/** Which of these are here. They are about to be used, and are marked so: in the order of their names, as two
 * agents with the same pieces would otherwise wait for each other. */
export async function knownEvidence(db: Conn, hashes: string[]): Promise<Set<string>> {
  if (hashes.length === 0) return new Set()
  const rows = await rowsOf(
    db,
    { hash: col.text },
    sql`
    with here as materialized (
      select hash from evidence where ${inArray(evidence.hash, hashes)} and dropped_at is null
      order by hash for no key update)
    update evidence e set seen_at = now() from here where e.hash = here.hash returning e.hash`,
  )
  return new Set(rows.map(({ hash }) => hash))
}

export async function addEvidence(
  db: Conn,
  row: { hash: string; mime: string; bytes: number },
): Promise<void> {
  await db
    .insert(evidence)
    .values(row)
    .onConflictDoUpdate({ target: evidence.hash, set: { seenAt: sql`now()`, droppedAt: null } })
}

/** Notes which pieces these events show. */
export async function addEvidenceUses(
  tx: Tx,
  attemptId: string,
  batch: readonly NumberedEvent[],
): Promise<void> {
  const uses = batch.flatMap((event) => evidenceOf(event) ?? [])
  if (uses.length > 0)
    await tx
      .insert(evidenceUses)
      .values(uses.map(({ hash, kind }) => ({ attemptId, hash, kind })))
      .onConflictDoNothing()
}

/** Keeps the evidence of an attempt whatever retention says. @param by `null`: no longer
 * @returns whether there is such an attempt */
export const pinEvidence = async (tx: Tx, attemptId: string, by: string | null): Promise<boolean> =>
  (
    await tx
      .update(attempts)
      .set({ pinnedBy: by })
      .where(eq(attempts.id, attemptId))
      .returning({ id: attempts.id })
  ).length > 0

/** The log lines a kind of evidence stands in: in rows, and in a log of one piece. */
const LINES: Record<EvidenceKind, SQL> = {
  screens: sql`(e.body->>'type' = 'screen' or e.body->>'kind' in ('page-source', 'display'))`,
  video: sql`(e.body->>'type' = 'evidence' and e.body->>'kind' = 'video')`,
  console: sql`e.body->>'type' = 'console'`,
  network: sql`e.body->>'type' in ('request', 'exchange')`,
}
const IS_OF: Record<EvidenceKind, (event: NumberedEvent) => boolean> = {
  screens: (event) => event.type === 'screen' || (event.type === 'evidence' && event.kind !== 'video'),
  video: (event) => event.type === 'evidence' && event.kind === 'video',
  console: ({ type }) => type === 'console',
  network: ({ type }) => type === 'request' || type === 'exchange',
}

/** Deletes one kind of evidence of attempts that ended longer ago than their run, or else the workspace,
 * keeps it. What a defect was logged from stays, and what somebody pinned. Attempts that another worker has
 * in hand are left to it.
 * @param days of the workspace; `undefined`: for ever
 * @returns how many attempts lost it; call again while it is `most` */
export async function dropKind(
  tx: Tx,
  kind: EvidenceKind,
  days: number | undefined,
  now: Now,
  most: number,
): Promise<number> {
  const dropped = await rowsOf(
    tx,
    { id: col.text, logInRows: col.flag },
    sql`
    with due as (
      select a.id from attempts a join runs r on r.id = a.run_id
      where a.state = 'ended' and not (${kind} = any(a.dropped))
        and a.ended_at < ${now} - make_interval(days => coalesce((r.how->'keep'->>${kind})::int,
          ${days ?? null}::int))
        and a.pinned_by is null
        and not exists (select from defects d where d.attempt_id = a.id)
      order by a.ended_at limit ${most} for update of a skip locked),
    lines as (delete from events e using due where e.attempt_id = due.id and ${LINES[kind]}),
    uses as (delete from evidence_uses u using due where u.attempt_id = due.id and u.kind = ${kind}),
    marked as (delete from marked_screens m using due where m.attempt_id = due.id and ${kind} = 'screens')
    update attempts a set dropped = array_append(a.dropped, ${kind}),
      screen = ${kind === 'screens' ? sql`null` : sql`a.screen`} from due where a.id = due.id
      returning a.id, a.log_in_rows as "logInRows"`,
  )
  const inOnePiece = dropped.filter(({ logInRows }) => !logInRows).map(({ id }) => id)
  if (inOnePiece.length > 0) await dropLines(tx, inOnePiece, IS_OF[kind])
  return dropped.length
}

/** Marks pieces that no attempt and no defect shows, and that no agent asked for since `graceMs`, as being
 * deleted. Those that were marked before, and whose files may be there yet, are among them.
 * @returns their hashes */
export async function markUnused(db: Conn, now: Now, graceMs: number, most: number): Promise<string[]> {
  const rows = await rowsOf(
    db,
    { hash: col.text },
    sql`
    with shown as materialized (
      select distinct v->>'hash' as hash from defects d, jsonb_array_elements(d.evidence) v),
    unused as (
      select x.hash from evidence x
      where x.seen_at < ${now} - ${graceMs} * interval '1 ms'
        and not exists (select from evidence_uses u where u.hash = x.hash)
        and not exists (select from shown s where s.hash = x.hash)
        and not exists (select from accepted_screens k where k.hash = x.hash)
        and not exists (select from guided_sheets g where x.hash = any(g.pictures))
      limit ${most} for update skip locked)
    update evidence e set dropped_at = ${now} from unused where e.hash = unused.hash returning e.hash`,
  )
  return rows.map(({ hash }) => hash)
}

/** Takes out those that are still being deleted.
 * @returns those that were brought again meanwhile, and stay */
export async function dropMarked(db: Conn, hashes: string[]): Promise<string[]> {
  const gone = await db
    .delete(evidence)
    .where(and(inArray(evidence.hash, hashes), isNotNull(evidence.droppedAt)))
    .returning({ hash: evidence.hash })
  const isGone = new Set(gone.map(({ hash }) => hash))
  return hashes.filter((hash) => !isGone.has(hash))
}

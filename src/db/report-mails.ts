/** Reports that go out by mail, and when. */
import { and, asc, eq, sql } from 'drizzle-orm'
import type { Conn, Tx } from './client'
import type { Now } from './moment'
import { col, rowsOf } from './rows'
import { reportMails } from './schema'

export type ReportMailRow = typeof reportMails.$inferSelect
export const MAIL_REPORT = 'mail-report'
/** graphile-worker waits e^try seconds between tries: some six hours in all. */
const TRIES_MOST = 11

export const reportMailsOf = async (db: Conn, rotationKey: string): Promise<ReportMailRow[]> =>
  await db
    .select()
    .from(reportMails)
    .where(eq(reportMails.rotationKey, rotationKey))
    .orderBy(asc(reportMails.createdAt))

export const reportMailById = async (db: Conn, id: string): Promise<ReportMailRow | undefined> =>
  (await db.select().from(reportMails).where(eq(reportMails.id, id)))[0]

export const addReportMail = async (tx: Tx, row: typeof reportMails.$inferInsert): Promise<string> =>
  (await tx.insert(reportMails).values(row).returning({ id: reportMails.id }))[0]!.id

/** @returns whether there was one */
export const dropReportMail = async (tx: Tx, rotationKey: string, id: string): Promise<boolean> =>
  (
    await tx
      .delete(reportMails)
      .where(and(eq(reportMails.rotationKey, rotationKey), eq(reportMails.id, id)))
      .returning({ id: reportMails.id })
  ).length > 0

export const noteMailed = async (db: Conn, id: string, problem: string | null): Promise<void> =>
  void (await db
    .update(reportMails)
    .set({ lastAt: sql`now()`, lastProblem: problem })
    .where(eq(reportMails.id, id)))

/** A job for each mail that goes out after this run, in the same transaction as its end. */
export async function enqueueMailsOfRun(tx: Tx, runId: number): Promise<void> {
  await tx.execute(
    sql`select graphile_worker.add_job(${MAIL_REPORT},
      payload => json_build_object('mail', m.id, 'run', r.id),
      job_key => ${MAIL_REPORT} || ' ' || m.id || ' ' || r.id, max_attempts => ${TRIES_MOST})
      from runs r join report_mails m on m.rotation_key = r.rotation_key and m.every = 'run'
      where r.id = ${runId} and r.kind <> 'rehearsal'`,
  )
}

export const enqueueMail = async (tx: Tx, id: string): Promise<void> =>
  void (await tx.execute(
    sql`select graphile_worker.add_job(${MAIL_REPORT}, payload => json_build_object('mail', ${id}::text),
      max_attempts => ${TRIES_MOST})`,
  ))

/** Those whose time has come, locked: of several workers one has each. */
export const lockDueMails = (
  tx: Tx,
  now: Now,
  most: number,
): Promise<{ id: string; weekday: number | null; time: string; zone: string; nextAt: Date }[]> =>
  rowsOf(
    tx,
    {
      id: col.text,
      weekday: col.orNull(col.integer),
      time: col.text,
      zone: col.text,
      nextAt: col.moment,
    },
    sql`
    select id, weekday, time, zone, next_at as "nextAt" from report_mails
    where next_at <= ${now} order by next_at limit ${most} for update skip locked`,
  )

export const setNextMail = async (tx: Tx, id: string, nextAt: Date): Promise<void> =>
  void (await tx.update(reportMails).set({ nextAt }).where(eq(reportMails.id, id)))

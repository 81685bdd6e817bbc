/** Words on screens, and the screens one may look for a text on. */
import { sql, type SQL } from 'drizzle-orm'
import type { ReadWord } from '@/core/vision'
import type { Conn } from './client'
import { col, rowsOf } from './rows'
import { screenWords } from './schema'

export const READ_SCREEN = 'read-screen'
/** Behind everything else, and one after the other. */
const [LAST, QUEUE, TRIES_MOST] = [100, 'read-screens', 3]

export type ScreenRow = Awaited<ReturnType<typeof screensOfRun>>[number]

/** Each screen once, with the newest attempt that shows it, the newest first. */
const screensWhere = (db: Conn, which: SQL, most: number) =>
  rowsOf(
    db,
    {
      hash: col.text,
      attemptId: col.text,
      title: col.text,
      environment: col.text,
      build: col.text,
      at: col.instant,
      isRead: col.flag,
      words: col.orNull(col.json<ReadWord[]>()),
    },
    sql`
    select s.hash, s."attemptId", s.title, s.environment, s.build, s.at, w.hash is not null as "isRead", w.words
    from (select distinct on (u.hash) u.hash, t.id as "attemptId", c.title, c.environment, r.build,
        t.claimed_at as at
      from case_runs c join runs r on r.id = c.run_id and r.kind <> 'rehearsal'
        join attempts t on t.case_run_id = c.id
        join evidence_uses u on u.attempt_id = t.id and u.kind = 'screens'
        join evidence e on e.hash = u.hash and e.mime like 'image/%' and e.dropped_at is null
      where ${which}
      order by u.hash, t.claimed_at desc) s
    left join screen_words w on w.hash = s.hash
    order by s.at desc, s.hash limit ${most}`,
  )

export const screensOfRun = (db: Conn, runId: number, most: number) =>
  screensWhere(db, sql`c.run_id = ${runId}`, most)

/** Of its last case runs. */
export const screensOfCase = (db: Conn, caseKey: string, lastRuns: number, most: number) =>
  screensWhere(
    db,
    sql`c.id in (select id from case_runs where case_key = ${caseKey} and ended_at is not null
      order by ended_at desc limit ${lastRuns})`,
    most,
  )

/** @param words `null`: they cannot be read */
export const putScreenWords = async (db: Conn, hash: string, words: ReadWord[] | null): Promise<void> =>
  void (await db.insert(screenWords).values({ hash, words }).onConflictDoNothing())

/** A job for each; those that wait already are not there twice. */
export async function enqueueReadingScreens(db: Conn, hashes: readonly string[]): Promise<void> {
  if (hashes.length === 0) return
  await db.execute(
    sql`select graphile_worker.add_job(${READ_SCREEN}, payload => json_build_object('hash', h),
      queue_name => ${QUEUE}, priority => ${LAST}, max_attempts => ${TRIES_MOST},
      job_key => ${READ_SCREEN} || ' ' || h, job_key_mode => 'preserve_run_at')
      from unnest(${sql.param([...hashes])}::text[]) h`,
  )
}

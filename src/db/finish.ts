/** What is left of runs that go on, and when they will be done. */
import { and, eq, ne, sql } from 'drizzle-orm'
import type { EndedPiece, OpenPiece } from '@/core/rota'
import type { FinishForecast } from '@/core/view-models'
import type { Db } from './client'
import { col, rowsOf } from './rows'
import { runs } from './schema'

export const runningNow = async (db: Db): Promise<{ id: number; retries: number; pool: string | null }[]> =>
  await db
    .select({ id: runs.id, retries: runs.retries, pool: runs.pool })
    .from(runs)
    .where(and(eq(runs.state, 'running'), ne(runs.kind, 'guided')))

/** All of a run that is open, with how long it has been at work, and the newest of what has ended: two
 * queries. */
export async function openPieces(
  db: Db,
  runId: number,
): Promise<{ open: OpenPiece[]; ended: EndedPiece[]; now: Date }> {
  const rows = await rowsOf(
    db,
    {
      id: col.text,
      environment: col.text,
      estimateMs: col.integer,
      exclusive: col.texts,
      after: col.texts,
      scopes: col.texts,
      agent: col.orNull(col.text),
      now: col.moment,
      sinceMs: col.orNull(col.integer),
    },
    sql`
    select c.id, c.environment, c.estimate_ms as "estimateMs", c.exclusive, case when c.ready then '{}'
      else c.after end as after, c.scopes, t.agent_name as agent, now() as now,
           (extract(epoch from now() - coalesce(t.started_at, t.claimed_at)) * 1000)::int as "sinceMs"
    from case_runs c left join attempts t on t.id = c.shown_attempt and t.state <> 'ended'
      where c.run_id = ${runId} and c.state <> 'ended'`,
  )
  const ended = await rowsOf(
    db,
    { ms: col.integer, estimateMs: col.integer },
    sql`
    select duration_ms as ms, estimate_ms as "estimateMs" from case_runs where run_id = ${runId}
      and outcome in ('passed', 'recovered') and duration_ms > 0 order by ended_at desc limit 200`,
  )
  const open = rows.map(({ sinceMs, agent, now: _, ...piece }) => ({
    ...piece,
    ...(sinceMs !== null && { sinceMs }),
    ...(agent !== null && { agent }),
  }))
  return { open, ended, now: rows[0]?.now ?? new Date() }
}

export async function putFinish(db: Db, runId: number, finish: FinishForecast): Promise<void> {
  await db
    .update(runs)
    .set({ finish })
    .where(and(eq(runs.id, runId), ne(runs.state, 'ended')))
}

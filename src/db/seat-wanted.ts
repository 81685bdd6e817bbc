/** Which run waits for a seat that something else has. */
import { sql } from 'drizzle-orm'
import { HELD_NAMES, isForAgent, isFree, RUN_IS_OPEN, WAITS_FOR_ONE } from './claim-rules'
import type { Conn } from './client'
import type { Now } from './moment'
import { col, rowsOf, type RowOf } from './rows'

const WANTED = { id: col.integer, title: col.text, waiting: col.integer }
export type SeatWanted = RowOf<typeof WANTED>

/** The most urgent run, after that the oldest, of which something could be begun on the seat of an attempt
 * and on no other seat that is free now. One query.
 * @param leaseMs after which an agent that says nothing is away
 * @returns nothing once the attempt is over */
export const runWaitingForSeatOf = async (
  db: Conn,
  attemptId: string,
  now: Now,
  leaseMs: number,
): Promise<SeatWanted | undefined> =>
  (
    await rowsOf(
      db,
      WANTED,
      sql`
      with me as (
        select a.* from attempts t join agents a on a.id = t.agent_id
        where t.id = ${attemptId} and t.state <> 'ended'),
      free as (
        select a.name, a.pool, a.environments from agents a
        where a.removed_at is null and not a.draining and not a.paused
          and a.heartbeat_at > ${now} - ${leaseMs} * interval '1 ms'
          and a.seats > (select count(*) from attempts t where t.agent_id = a.id and t.state <> 'ended'))
      select o.id, o.title, count(*)::int as waiting
      from me, (select * from runs where ${sql.raw(RUN_IS_OPEN)}) o join case_runs c on ${sql.raw(WAITS_FOR_ONE)}
      where (o.pool is null or o.pool = me.pool) and c.environment = any (me.environments)
        and ${sql.raw(isForAgent)} and ${sql.raw(isFree(HELD_NAMES))}
        and not exists (
          select from free f where (o.pool is null or o.pool = f.pool)
            and c.environment = any (f.environments) and c.agent in ('', f.name))
      group by o.id, o.title, o.priority order by o.priority desc, o.id limit 1`,
    )
  )[0]

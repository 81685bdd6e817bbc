/** Numbers of runs follow each other. PostgreSQL writes a sequence ahead by 32, so that after a crash it goes
 * on beyond what was used. */
import { sql } from 'drizzle-orm'
import type { Db, Tx } from './client'
import { col, rowsOf } from './rows'

const HIGHEST = 'highest-run'

/** The highest number that was ever used: runs may be deleted, their numbers are not given again. */
const USED = sql`greatest(coalesce((select max(id) from runs), 0),
  coalesce((select (value #>> '{}')::int from settings where name = ${HIGHEST}), 0))`

/** Notes a number before its run is deleted. */
export async function noteUsedNumber(tx: Tx | Db, number: number): Promise<void> {
  await tx.execute(sql`
    insert into settings (name, value) values (${HIGHEST}, to_jsonb(${number}::int))
    on conflict (name) do update set value = to_jsonb(greatest((settings.value #>> '{}')::int,
      ${number}::int))`)
}

/** Sets the next number right after the highest that was used, where it is further. @returns whether it
 * was */
export async function repairRunNumbers(db: Db): Promise<boolean> {
  const isAhead = async (conn: Tx | Db) =>
    (
      await rowsOf(
        conn,
        { ahead: col.flag },
        sql`select is_called and last_value > ${USED} as ahead from runs_id_seq`,
      )
    )[0]?.ahead === true
  if (!(await isAhead(db))) return false
  return db.transaction(async (tx) => {
    // runs that are being started are there, or have their number still to take
    await tx.execute(sql`lock table runs in share row exclusive mode`)
    if (!(await isAhead(tx))) return false
    await tx.execute(sql`select setval('runs_id_seq', greatest(${USED}, 1), ${USED} > 0)`)
    return true
  })
}

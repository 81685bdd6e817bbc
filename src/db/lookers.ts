/** Who looks at which cause just now. */
import { eq, sql } from 'drizzle-orm'
import type { Conn } from './client'
import type { Now } from './moment'
import { col, rowsOf } from './rows'
import { lookers } from './schema'

/** @returns whether they looked at another one, or at none, before */
export async function noteLooker(
  db: Conn,
  now: Now,
  person: string,
  signature: string,
  withinMs: number,
): Promise<boolean> {
  const rows = await rowsOf(
    db,
    { isNew: col.flag },
    sql`
    with before as (select signature, at from lookers where person = ${person}),
      written as (
        insert into lookers (person, signature, at) values (${person}, ${signature}, ${now})
        on conflict (person) do update set signature = excluded.signature, at = excluded.at)
    select not exists (
      select from before
      where signature = ${signature} and at > ${now} - ${withinMs} * interval '1 ms') as "isNew"`,
  )
  return rows[0]!.isNew
}

/** @returns whether they looked at one */
export const dropLooker = async (db: Conn, person: string): Promise<boolean> =>
  (await db.delete(lookers).where(eq(lookers.person, person))).rowCount === 1

/** Those who said so within that time, by name. */
export const lookersNow = (
  db: Conn,
  now: Now,
  withinMs: number,
): Promise<{ person: string; signature: string; ageMs: number }[]> =>
  rowsOf(
    db,
    { person: col.text, signature: col.text, ageMs: col.integer },
    sql`
    select person, signature, (extract(epoch from ${now} - at) * 1000)::int as "ageMs"
    from lookers where at > ${now} - ${withinMs} * interval '1 ms' order by person`,
  )

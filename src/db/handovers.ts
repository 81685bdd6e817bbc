/** Who is to decide which cause. */
import { sql } from 'drizzle-orm'
import type { Conn, Tx } from './client'
import { col, rowsOf, type RowOf } from './rows'
import { causeHandovers } from './schema'

export const addHandover = async (tx: Tx, row: typeof causeHandovers.$inferInsert): Promise<void> =>
  void (await tx.insert(causeHandovers).values(row))

const HANDOVER = {
  signature: col.text,
  person: col.text,
  note: col.text,
  by: col.text,
  at: col.instant,
}
export type HandoverRow = RowOf<typeof HANDOVER>

/** The newest of each; what was given to nobody again is not among them. */
export const handoversOf = (db: Conn, signatures: readonly string[]): Promise<HandoverRow[]> =>
  rowsOf(
    db,
    HANDOVER,
    sql`
    select * from (
      select distinct on (signature) signature, person, note, given_by as by, given_at as at
      from cause_handovers where signature = any(${sql.param([...signatures])}::text[])
      order by signature, id desc) newest
    where person <> ''`,
  )

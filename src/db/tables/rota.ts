/** What became of planned starts. Each index names the query it serves. */
import { index, integer, pgTable, primaryKey, text } from 'drizzle-orm/pg-core'
import { moment } from './columns'
import { runs } from './runs'

/** What became of each planned start. The primary key is what makes it happen once, however many workers
 * look. */
export const occurrenceStarts = pgTable(
  'occurrence_starts',
  {
    rotationKey: text('rotation_key').notNull(),
    at: moment('at').notNull(),
    state: text('state', { enum: ['started', 'skipped', 'failed'] }).notNull(),
    runId: integer('run_id').references(() => runs.id, { onDelete: 'set null' }),
    why: text('why'),
  },
  (table) => [
    primaryKey({ columns: [table.rotationKey, table.at] }),
    index('occurrence_starts_between').on(table.at),
  ], // the rota's past
)

/** Up to when a rotation's planned starts were looked at. Its row is locked while they are. */
export const rotaMarks = pgTable('rota_marks', {
  rotationKey: text('rotation_key').primaryKey(),
  seenUntil: moment('seen_until').notNull(),
  /** Since when its starts count without a break: what was over before is not followed. */
  since: moment('since').notNull().defaultNow(),
})

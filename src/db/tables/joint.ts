/** Joint cases: who has come where, and what they handed to each other. */
import { integer, pgTable, primaryKey, text, uuid } from 'drizzle-orm/pg-core'
import { moment } from './columns'
import { caseRuns } from './runs'

/** Which role of a joint case has arrived at which meeting point, by try. `visit`: 1-based visit count. */
export const jointArrivals = pgTable(
  'joint_arrivals',
  {
    caseRunId: uuid('case_run_id')
      .notNull()
      .references(() => caseRuns.id, { onDelete: 'cascade' }),
    number: integer('number').notNull(),
    point: text('point').notNull(),
    visit: integer('visit').notNull(),
    role: text('role').notNull(),
    at: moment('at').notNull().defaultNow(),
  },
  (table) => [primaryKey({ columns: [table.caseRunId, table.number, table.point, table.visit, table.role] })],
)

/** Values that a role of a joint case handed to the others, while they go on. */
export const jointValues = pgTable(
  'joint_values',
  {
    caseRunId: uuid('case_run_id')
      .notNull()
      .references(() => caseRuns.id, { onDelete: 'cascade' }),
    number: integer('number').notNull(),
    name: text('name').notNull(),
    value: text('value').notNull(),
    role: text('role').notNull(),
  },
  (table) => [primaryKey({ columns: [table.caseRunId, table.number, table.name] })],
)

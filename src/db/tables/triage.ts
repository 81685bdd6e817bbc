/** Causes of failures, and what people decided of them. */
import { sql } from 'drizzle-orm'
import { index, integer, jsonb, pgTable, primaryKey, serial, text } from 'drizzle-orm/pg-core'
import type { DecisionKind, GroupFacts } from '@/core/triage'
import type { KeptCause } from '@/core/view-models'
import { moment } from './columns'
import { runs } from './runs'

/** Lines are added, and taken back; none is changed. The newest of a signature that was not taken back is
 * what is decided of it. */
export const causeDecisions = pgTable(
  'cause_decisions',
  {
    id: serial('id').primaryKey(),
    signature: text('signature').notNull(),
    as: text('decided_as').$type<DecisionKind>().notNull(),
    note: text('note').notNull(),
    build: text('build').notNull(),
    runId: integer('run_id').references(() => runs.id, { onDelete: 'set null' }),
    /** What the cause was called, and what there was to see of it. */
    title: text('title').notNull(),
    facts: jsonb('facts').$type<GroupFacts>().notNull(),
    decidedBy: text('decided_by').notNull(),
    decidedAt: moment('decided_at').notNull().defaultNow(),
    takenBackBy: text('taken_back_by'),
    takenBackAt: moment('taken_back_at'),
  },
  (table) => [
    // what is decided of each signature
    index('cause_decisions_standing')
      .on(table.signature, table.id.desc().nullsFirst())
      .where(sql`${table.takenBackAt} is null`),
    index('cause_decisions_of_run').on(table.runId),
  ],
)

/** The causes of a run that has ended, as they were found when it had: Triage shows those of many runs. */
export const runCauses = pgTable(
  'run_causes',
  {
    runId: integer('run_id')
      .notNull()
      .references(() => runs.id, { onDelete: 'cascade' }),
    signature: text('signature').notNull(),
    cause: jsonb('cause').$type<KeptCause>().notNull(),
  },
  (table) => [primaryKey({ columns: [table.runId, table.signature] })],
)

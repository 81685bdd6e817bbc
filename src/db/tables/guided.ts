/** What people have said so far of the case runs they carry out by hand. */
import { sql } from 'drizzle-orm'
import { integer, jsonb, pgTable, text, uuid } from 'drizzle-orm/pg-core'
import type { GuidedVerdict, GuidedVideo } from '@/core/guided'
import { moment } from './columns'
import { caseRuns } from './runs'

/** One a case run that somebody has begun: kept from day to day until it is concluded, and an attempt. */
export const guidedSheets = pgTable('guided_sheets', {
  caseRunId: uuid('case_run_id')
    .primaryKey()
    .references(() => caseRuns.id, { onDelete: 'cascade' }),
  person: text('person').notNull(),
  verdicts: jsonb('verdicts').$type<GuidedVerdict[]>().notNull().default([]),
  /** Of the system it is done on. */
  facts: jsonb('facts').$type<Record<string, string>>().notNull().default({}),
  /** Of the window that was shared. */
  video: jsonb('video').$type<GuidedVideo>(),
  /** How long it was worked on, without the time it lay. */
  workedMs: integer('worked_ms').notNull().default(0),
  /** Grows with each save: two people at one sheet do not undo each other. */
  version: integer('version').notNull().default(0),
  /** Pieces of evidence that stay although no attempt shows them yet. */
  pictures: text('pictures')
    .array()
    .notNull()
    .default(sql`'{}'`),
  savedAt: moment('saved_at').notNull().defaultNow(),
})

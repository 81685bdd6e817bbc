/** Screens that checks compare with. Each index names the query it serves. */
import { sql } from 'drizzle-orm'
import { bigserial, index, integer, jsonb, pgTable, real, text, uniqueIndex } from 'drizzle-orm/pg-core'
import type { Box } from '@/core/execution'
import { moment } from './columns'

/** A screen that was accepted for a check of a case, by the name the check gives it, on an environment. What
 * was accepted before stays, with when it ended. */
export const acceptedScreens = pgTable(
  'accepted_screens',
  {
    id: bigserial('id', { mode: 'number' }).primaryKey(),
    caseKey: text('case_key').notNull(),
    name: text('name').notNull(),
    environment: text('environment').notNull(),
    /** Of the piece of evidence, which is kept as long as this row. */
    hash: text('hash').notNull(),
    width: integer('width').notNull(),
    height: integer('height').notNull(),
    /** In pixels of the picture: what is not looked at. */
    ignore: jsonb('ignore').$type<Box[]>().notNull().default([]),
    /** Share of the picture that may differ, from 0 to 1. */
    most: real('most').notNull().default(0),
    acceptedBy: text('accepted_by').notNull(),
    acceptedAt: moment('accepted_at').notNull().defaultNow(),
    endedAt: moment('ended_at'),
  },
  (table) => [
    uniqueIndex('accepted_screens_now')
      .on(table.caseKey, table.name, table.environment)
      .where(sql`ended_at is null`), // what an attempt compares with; never two at once
    index('accepted_screens_before').on(table.caseKey, table.name, table.environment, table.id), // history
    index('accepted_screens_pieces').on(table.hash), // evidence that stays
  ],
)

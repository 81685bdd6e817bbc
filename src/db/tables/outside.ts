/** Messages from and to other programs. */
import { sql } from 'drizzle-orm'
import { index, integer, pgTable, text, uuid } from 'drizzle-orm/pg-core'
import { created, moment } from './columns'

/** Signed messages that were taken: the same one sent again starts nothing again. */
export const takenMessages = pgTable('taken_messages', {
  id: text('id').primaryKey(),
  at: moment('at').notNull().defaultNow(),
})

/** Addresses that are told what happens to runs, as CloudEvents signed by the secret. */
export const hooks = pgTable('hooks', {
  id: uuid('id').primaryKey().defaultRandom(),
  address: text('address').notNull(),
  events: text('events').array().notNull(),
  secret: text('secret').notNull(),
  createdBy: text('created_by').notNull(),
  createdAt: created(),
  lastAt: moment('last_at'),
  lastAnswer: text('last_answer'),
})

export const MAILED_EVERY = ['run', 'day', 'week'] as const
export const MAILED_ABOUT = ['run', 'runs'] as const
export const MAILED_AS = ['html', 'pdf', 'xlsx'] as const

/** Reports of a rotation that go out by mail. */
export const reportMails = pgTable(
  'report_mails',
  {
    id: uuid('id').primaryKey().defaultRandom(),
    rotationKey: text('rotation_key').notNull(),
    recipients: text('recipients').array().notNull(),
    format: text('format', { enum: MAILED_AS }).notNull(),
    /** Its last run, or so many of its last runs. */
    about: text('about', { enum: MAILED_ABOUT }).notNull(),
    runs: integer('runs').notNull(),
    /** After each run, or at a time. */
    every: text('every', { enum: MAILED_EVERY }).notNull(),
    weekday: integer('weekday'),
    time: text('time'),
    zone: text('zone'),
    nextAt: moment('next_at'),
    lastAt: moment('last_at'),
    lastProblem: text('last_problem'),
    createdBy: text('created_by').notNull(),
    createdAt: created(),
  },
  (table) => [
    index('report_mails_of').on(table.rotationKey), // a page of a rotation, and the end of its runs
    index('report_mails_due')
      .on(table.nextAt)
      .where(sql`next_at is not null`), // what the worker looks for
  ],
)

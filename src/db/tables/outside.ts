/** Messages from and to other programs. */
import { pgTable, text, uuid } from 'drizzle-orm/pg-core'
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

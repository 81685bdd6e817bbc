/** Pieces of evidence, and screens that somebody looks at now. Each index names the query it serves. */
import { index, integer, jsonb, pgTable, primaryKey, text, uuid } from 'drizzle-orm/pg-core'
import type { EvidenceKind } from '@/core/model'
import type { ReadWord } from '@/core/vision'
import { bytes, created, moment } from './columns'
import { attempts } from './attempts'

/** What is on the screen of an attempt that somebody watches. Not evidence: overwritten by the next one, and
 * lost by a crash (an unlogged table). */
export const liveScreens = pgTable('live_screens', {
  attemptId: uuid('attempt_id').primaryKey(),
  at: moment('at').notNull(),
  mime: text('mime').notNull(),
  bytes: bytes('bytes').notNull(),
})

/** At which web process the agent of a live session has its line: people who come to another one are led
 * there. */
export const liveLines = pgTable('live_lines', {
  attemptId: uuid('attempt_id')
    .primaryKey()
    .references(() => attempts.id, { onDelete: 'cascade' }),
  address: text('address').notNull(),
})

export const evidence = pgTable(
  'evidence',
  {
    hash: text('hash').primaryKey(),
    mime: text('mime').notNull(),
    bytes: integer('bytes').notNull(),
    createdAt: created(),
    /** When an agent last brought it or asked whether it is here: it may be about to use it. */
    seenAt: moment('seen_at').notNull().defaultNow(),
    /** It is being deleted: it counts as not here, and comes back when an agent brings it again. */
    droppedAt: moment('dropped_at'),
  },
  (table) => [index('evidence_seen').on(table.seenAt)], // what nothing uses
)

/** Which attempts show which piece; a piece that none shows is deleted. */
export const evidenceUses = pgTable(
  'evidence_uses',
  {
    attemptId: uuid('attempt_id')
      .notNull()
      .references(() => attempts.id, { onDelete: 'cascade' }),
    hash: text('hash').notNull(),
    kind: text('kind').$type<EvidenceKind>().notNull(),
  },
  (table) => [
    primaryKey({ columns: [table.attemptId, table.hash, table.kind] }),
    index('evidence_uses_of').on(table.hash),
  ],
)

/** Words on a screen, as they were read when somebody first looked for a text on it. */
export const screenWords = pgTable('screen_words', {
  hash: text('hash')
    .primaryKey()
    .references(() => evidence.hash, { onDelete: 'cascade' }),
  /** `null`: they cannot be read. */
  words: jsonb('words').$type<ReadWord[]>(),
  readAt: moment('read_at').notNull().defaultNow(),
})

/** Screens of an attempt that somebody marked up: pieces of their own, beside the untouched originals. They
 * go when the screens of the attempt go. */
export const markedScreens = pgTable(
  'marked_screens',
  {
    id: uuid('id').primaryKey().defaultRandom(),
    attemptId: uuid('attempt_id')
      .notNull()
      .references(() => attempts.id, { onDelete: 'cascade' }),
    /** Of the line of the log it was taken from. */
    path: text('path').notNull(),
    original: text('original').notNull(),
    hash: text('hash').notNull(),
    width: integer('width').notNull(),
    height: integer('height').notNull(),
    /** What it is to show, in the words of who made it. */
    note: text('note').notNull().default(''),
    markedBy: text('marked_by').notNull(),
    markedAt: moment('marked_at').notNull().defaultNow(),
  },
  (table) => [index('marked_screens_of').on(table.attemptId, table.markedAt)], // what the reader lists
)

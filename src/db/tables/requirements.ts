/** What applications have to do, and which builds were let out. */
import { integer, index, jsonb, pgTable, serial, text } from 'drizzle-orm/pg-core'
import type { Importance, ReleaseSheet } from '@/core/requirements'
import { moment } from './columns'

export const requirements = pgTable('requirements', {
  key: text('key').primaryKey(),
  title: text('title').notNull(),
  parent: text('parent'),
  importance: text('importance').$type<Importance>().notNull(),
  /** In the list that it came in. */
  position: integer('position').notNull(),
})

export const RELEASE_DECISIONS = ['goes', 'stays'] as const

/** Release sheets that somebody signed. Lines are added, and none is changed. */
export const releases = pgTable(
  'releases',
  {
    id: serial('id').primaryKey(),
    build: text('build').notNull(),
    decision: text('decision', { enum: RELEASE_DECISIONS }).notNull(),
    note: text('note').notNull(),
    sheet: jsonb('sheet').$type<ReleaseSheet>().notNull(),
    /** The sealed document, as HTML. */
    document: text('document').notNull(),
    sha256: text('sha256').notNull(),
    signedBy: text('signed_by').notNull(),
    signedAt: moment('signed_at').notNull().defaultNow(),
  },
  // those of a build
  (table) => [index('releases_of_build').on(table.build, table.id.desc().nullsFirst())],
)

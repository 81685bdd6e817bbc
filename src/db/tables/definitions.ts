/** Texts of cases, suites, routines, tables of data, rotations and policies, and the repositories they come
 * from. Each index names the query it serves. */
import { boolean, index, integer, jsonb, pgTable, primaryKey, serial, text } from 'drizzle-orm/pg-core'
import type { Definition, DefinitionKind, FileProblem } from '@/core/model'
import { moment } from './columns'

export const repositories = pgTable('repositories', {
  id: serial('id').primaryKey(),
  name: text('name').notNull().unique(),
  location: text('location').notNull(),
  branch: text('branch').notNull(),
  folder: text('folder').notNull().default(''),
  commit: text('commit'),
  readAt: moment('read_at'),
  problems: jsonb('problems').$type<FileProblem[]>().notNull().default([]),
  /** What the last reading found new, changed, moved, removed and in conflict. */
  found: jsonb('found').$type<FoundFile[]>().notNull().default([]),
  /** Read again after this many minutes; 0: only when asked. */
  everyMinutes: integer('every_minutes').notNull().default(0),
  /** Signs what a git server sends when something was pushed. */
  webhookSecret: text('webhook_secret'),
  /** A token or a private key, sealed; none for what everybody may read. */
  credentials: text('credentials'),
})

/** A file of a repository in which a reading found something to tell. */
export type FoundFile = {
  what: 'new' | 'changed' | 'moved' | 'removed' | 'conflict'
  kind: DefinitionKind
  key: string
  title: string
  file: string
  changes: string[]
}

/** Cases, routines, suites and tables, parsed. `source` is the text as it is now, here. */
export const definitions = pgTable(
  'definitions',
  {
    kind: text('kind').$type<DefinitionKind>().notNull(),
    key: text('key').notNull(),
    title: text('title').notNull(),
    repositoryId: integer('repository_id').references(() => repositories.id, { onDelete: 'cascade' }),
    file: text('file').notNull(),
    hash: text('hash').notNull(),
    document: jsonb('document').$type<Definition>().notNull(),
    source: text('source').notNull(),
    /** Number of the newest version; who saves says which one they started from. */
    version: integer('version').notNull().default(1),
    /** Saved here and not in the repository yet: `hash` is then still of the file as it was read. */
    edited: boolean('edited').notNull().default(false),
    /** By branch: the hash of the text that was last committed to it from here. */
    committed: jsonb('committed').$type<Record<string, string>>().notNull().default({}),
    /** The repository's newer text, when it changed there while it was edited here. */
    theirs: text('theirs'),
    changedAt: moment('changed_at').notNull().defaultNow(),
  },
  (table) => [
    primaryKey({ columns: [table.kind, table.key] }),
    index('definitions_of_repository').on(table.repositoryId),
  ],
)

/** Every saved text of a definition; stays when the definition goes. */
export const versions = pgTable(
  'versions',
  {
    kind: text('kind').$type<DefinitionKind>().notNull(),
    key: text('key').notNull(),
    number: integer('number').notNull(),
    at: moment('at').notNull().defaultNow(),
    who: text('who').notNull(),
    how: text('how', { enum: ['made', 'edited', 'read', 'restored', 'moved', 'removed'] }).notNull(),
    /** Sentences: what changed since the version before. */
    changes: text('changes').array().notNull(),
    source: text('source').notNull(),
  },
  (table) => [primaryKey({ columns: [table.kind, table.key, table.number] })],
)

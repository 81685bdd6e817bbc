/** What an installation is about: applications, builds, environments, secrets, settings, and what was changed
 * by whom. Each index names the query it serves. */
import {
  bigint,
  bigserial,
  boolean,
  index,
  integer,
  jsonb,
  pgTable,
  text,
  uniqueIndex,
} from 'drizzle-orm/pg-core'
import type { Environment, Probe } from '@/core/model'
import { VIEWED_PAGES } from '@/core/view-models'
import { bytes, created, moment } from './columns'

/** A thing under test. `{build}` in its addresses is replaced by the run's build. */
export const applications = pgTable('applications', {
  key: text('key').primaryKey(),
  title: text('title').notNull(),
  address: text('address').notNull(),
  /** Other addresses, by the name of the stage. */
  stages: jsonb('stages').$type<Record<string, string>>().notNull().default({}),
  /** How to tell that it is up; absent: by its first page. */
  probe: jsonb('probe').$type<Probe>(),
  /** Who answers for it, and where its defects are sent; empty: nobody is named. */
  owner: text('owner').notNull().default(''),
  mail: text('mail').notNull().default(''),
})

export const builds = pgTable('builds', {
  label: text('label').primaryKey(),
  createdAt: created(),
})

export const environments = pgTable('environments', {
  key: text('key').primaryKey(),
  title: text('title').notNull(),
  position: integer('position').notNull(),
  simulated: boolean('simulated').notNull(),
  facts: jsonb('facts').$type<Environment>().notNull(),
})

/** Databases that `query` steps read, with a connection that may only read. */
export const databases = pgTable('databases', { key: text('key').primaryKey(), url: text('url').notNull() })

/** Values that cases use and nobody sees, sealed with the installation's secret. */
export const secrets = pgTable('secrets', {
  name: text('name').primaryKey(),
  sealed: text('sealed').notNull(),
  /** Cases that touch no other application are given it; empty: whatever they touch. */
  applications: text('applications').array().notNull().default([]),
  /** Agents of these pools are given it; empty: of any. */
  pools: text('pools').array().notNull().default([]),
  setBy: text('set_by').notNull(),
  setAt: moment('set_at').notNull().defaultNow(),
})

/** Parts of screens that targets are looked for by. */
export const pictures = pgTable('pictures', {
  name: text('name').primaryKey(),
  /** PNG. */
  bytes: bytes('bytes').notNull(),
  width: integer('width').notNull(),
  height: integer('height').notNull(),
  setBy: text('set_by').notNull(),
  setAt: moment('set_at').notNull().defaultNow(),
})

export const audit = pgTable(
  'audit',
  {
    id: bigserial('id', { mode: 'number' }).primaryKey(),
    at: moment('at').notNull().defaultNow(),
    /** As people read it. */
    who: text('who').notNull(),
    /** What does not change: the id of a person, a token or an agent; empty: the product itself. */
    actor: text('actor').notNull().default(''),
    /** Where it was asked from; empty: not over HTTP. */
    address: text('address').notNull().default(''),
    action: text('action').notNull(),
    subject: text('subject').notNull(),
    detail: jsonb('detail').$type<Record<string, unknown>>().notNull().default({}),
    /** Its place in the chain, and what seals it together with all before it; absent: not sealed yet, for a
     * second at the most. */
    seal: bigint('seal', { mode: 'number' }),
    hash: text('hash'),
  },
  (table) => [
    index('audit_newest').on(table.at),
    uniqueIndex('audit_sealed').on(table.seal),
    index('audit_of_actor').on(table.actor, table.id),
  ],
)

/** Few, named facts of this installation, such as the demo's seed and the tracker's address. */
export const settings = pgTable('settings', {
  name: text('name').primaryKey(),
  value: jsonb('value').$type<unknown>().notNull(),
})

/** Views that people keep under a name: what stands in the address of a page. */
export const savedViews = pgTable(
  'saved_views',
  {
    id: integer('id').primaryKey().generatedAlwaysAsIdentity(),
    page: text('page', { enum: VIEWED_PAGES }).notNull(),
    name: text('name').notNull(),
    query: text('query').notNull(),
    savedBy: text('saved_by').notNull(),
    savedAt: moment('saved_at').notNull().defaultNow(),
  },
  (table) => [uniqueIndex('saved_views_of_page').on(table.page, table.name)],
)

/** What an installation is about: applications, builds, environments, secrets, settings, and what was changed by whom. Each index names the query it serves. */
import { bigserial, boolean, index, integer, jsonb, pgTable, text } from 'drizzle-orm/pg-core'
import type { Environment } from '@/core/model'
import { created, moment } from './columns'

/** A thing under test. `{build}` in the address is replaced by the run's build. */
export const applications = pgTable('applications', {
  key: text('key').primaryKey(),
  title: text('title').notNull(),
  address: text('address').notNull(),
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
  setBy: text('set_by').notNull(),
  setAt: moment('set_at').notNull().defaultNow(),
})

export const audit = pgTable(
  'audit',
  {
    id: bigserial('id', { mode: 'number' }).primaryKey(),
    at: moment('at').notNull().defaultNow(),
    who: text('who').notNull(),
    action: text('action').notNull(),
    subject: text('subject').notNull(),
    detail: jsonb('detail').$type<Record<string, unknown>>().notNull().default({}),
  },
  (table) => [index('audit_newest').on(table.at)],
)

/** Few, named facts of this installation, such as the demo's seed and the tracker's address. */
export const settings = pgTable('settings', { name: text('name').primaryKey(), value: jsonb('value').$type<unknown>().notNull() })

/** Agents and the tokens that let them in. */
import { boolean, integer, jsonb, pgTable, text, uuid } from 'drizzle-orm/pg-core'
import type { InjectedFault } from '@/core/execution'
import { created, moment } from './columns'

/** What a token allows: to serve as an agent, to start rotations, to read the rota as a calendar. */
export const TOKEN_PURPOSES = ['agent', 'ci', 'calendar'] as const

/** Tokens are stored as SHA-256, and shown once, when made. */
export const tokens = pgTable('tokens', {
  id: uuid('id').primaryKey().defaultRandom(),
  purpose: text('purpose', { enum: TOKEN_PURPOSES }).notNull(),
  name: text('name').notNull(),
  hash: text('hash').notNull().unique(),
  /** An agent's token may register this name only; empty: any. */
  scope: text('scope').notNull().default(''),
  /** Environments that its agent may declare; empty: any. */
  environments: text('environments').array().notNull().default([]),
  /** The pool its agent begins in; empty: the one the agent names. */
  pool: text('pool').notNull().default(''),
  createdBy: text('created_by'),
  createdAt: created(),
  usedAt: moment('used_at'),
  revokedAt: moment('revoked_at'),
})

export const agents = pgTable('agents', {
  id: uuid('id').primaryKey().defaultRandom(),
  name: text('name').notNull().unique(),
  tokenId: uuid('token_id').references(() => tokens.id),
  /** Changes at each start of the agent's process: what an earlier process held is given up at once. */
  instance: text('instance').notNull(),
  /** Given at the first registration; a person may have changed it since. */
  pool: text('pool').notNull(),
  labels: text('labels').array().notNull().default([]),
  /** Of what this product can drive, what was not found there, and how to get it. */
  missing: jsonb('missing').$type<{ what: string; get: string }[]>().notNull().default([]),
  version: text('version').notNull(),
  seats: integer('seats').notNull(),
  environments: text('environments').array().notNull(),
  simulated: boolean('simulated').notNull(),
  /** Host of the WebDriver endpoint its browsers are behind; empty: they run where it runs. */
  through: text('through'),
  draining: boolean('draining').notNull().default(false),
  /** It takes nothing new, and what it has waits before its next step. */
  paused: boolean('paused').notNull().default(false),
  /** Taken out of the fleet by a person; it is back when it registers again. */
  removedAt: moment('removed_at'),
  heartbeatAt: moment('heartbeat_at').notNull(),
  /** How far its clock is ahead of ours (behind: below 0), as of its last heartbeat. */
  clockOffMs: integer('clock_off_ms').notNull().default(0),
  /** What a simulated agent was told to do wrong, and until when. */
  misbehaviours: jsonb('misbehaviours').$type<InjectedFault[]>().notNull().default([]),
  createdAt: created(),
})

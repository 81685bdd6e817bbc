/** Attempts, their logs, and what they hold and hand on. Each index names the query it serves. */
import { sql } from 'drizzle-orm'
import {
  bigserial,
  boolean,
  index,
  integer,
  jsonb,
  pgTable,
  primaryKey,
  text,
  uniqueIndex,
  uuid,
} from 'drizzle-orm/pg-core'
import type { AttemptEvent, AttemptOutcome, AttemptState, FailureKind } from '@/core/execution'
import type { EvidenceKind, Resume } from '@/core/model'
import { bytes, moment } from './columns'
import { agents } from './fleet'
import { caseRuns, runs } from './runs'

export const attempts = pgTable(
  'attempts',
  {
    id: uuid('id').primaryKey().defaultRandom(),
    caseRunId: uuid('case_run_id')
      .notNull()
      .references(() => caseRuns.id, { onDelete: 'cascade' }),
    runId: integer('run_id').notNull(),
    number: integer('number').notNull(),
    /** Of a joint case; empty: the whole case. */
    role: text('role').notNull().default(''),
    agentId: uuid('agent_id')
      .notNull()
      .references(() => agents.id),
    agentName: text('agent_name').notNull(),
    seat: integer('seat').notNull(),
    lease: integer('lease').notNull(),
    leasedUntil: moment('leased_until').notNull(),
    state: text('state').$type<AttemptState>().notNull(),
    /** Why it is to end before its end: another role did not pass. */
    told: text('told'),
    outcome: text('outcome').$type<AttemptOutcome>(),
    failureKind: text('failure_kind').$type<FailureKind>(),
    failureMessage: text('failure_message'),
    failurePath: text('failure_path'),
    failureTag: text('failure_tag'),
    failureApplication: text('failure_application'),
    claimedAt: moment('claimed_at').notNull(),
    startedAt: moment('started_at'),
    endedAt: moment('ended_at'),
    /** When its agent last said anything of what goes on in it: signs of life alone do not count. */
    reportedAt: moment('reported_at').notNull().defaultNow(),
    /** Words of the step it is at, and its newest screen: what Now and Fleet show. */
    atStep: text('at_step'),
    screen: text('screen'),
    /** Somebody looks at it until then: its agent sends what is on the screen about each second. */
    watchedUntil: moment('watched_until'),
    /** Who wants its evidence kept whatever retention says. */
    pinnedBy: text('pinned_by'),
    /** What its agent said of it after the lease had run out: refused, and kept so that people see it. */
    lateResult: text('late_result').$type<AttemptOutcome>(),
    /** Recovery rules that were used, in their order. */
    recoveries: jsonb('recoveries').$type<Recovery[]>().notNull().default([]),
    /** Its log stands in `events`; false: in one piece, in `attempt_logs`. */
    logInRows: boolean('log_in_rows').notNull().default(true),
    /** Kinds of evidence whose time was over: deleted. */
    dropped: text('dropped').array().$type<EvidenceKind[]>().notNull().default([]),
  },
  (table) => [
    uniqueIndex('attempts_of_case_run').on(table.caseRunId, table.number, table.role),
    // expired leases, shares of rotations; not of the lease itself, so that renewing one touches no index
    index('attempts_open')
      .on(table.runId)
      .where(sql`state <> 'ended'`),
    uniqueIndex('attempts_on_seats')
      .on(table.agentId, table.seat)
      .where(sql`state <> 'ended'`), // seats in use; never two on one
    index('attempts_of_run').on(table.runId), // lanes
    index('attempts_lately').on(table.claimedAt), // how busy the fleet was
    index('attempts_to_pack')
      .on(table.endedAt)
      .where(sql`log_in_rows and ended_at is not null`), // whose logs are put into one piece
    index('attempts_ended')
      .on(table.endedAt)
      .where(sql`ended_at is not null`), // whose evidence's time is over; failures of the last weeks
  ],
)

/** A use of a recovery rule; `no` is the number of the event that told it. */
export type Recovery = {
  no: number
  rule: string
  result: 'worked' | 'failed'
  ms: number
  path: string
  kind: FailureKind
  resume: Resume
  message?: string
  tag?: string
  application?: string
}

/** Values that case runs handed on, for later ones of the same run and environment. */
export const handoffs = pgTable(
  'handoffs',
  {
    id: bigserial('id', { mode: 'number' }).primaryKey(),
    runId: integer('run_id')
      .notNull()
      .references(() => runs.id, { onDelete: 'cascade' }),
    environment: text('environment').notNull(),
    name: text('name').notNull(),
    value: text('value').notNull(),
    rowIndex: integer('row_index'),
    caseRunId: uuid('case_run_id')
      .notNull()
      .references(() => caseRuns.id, { onDelete: 'cascade' }),
  },
  (table) => [index('handoffs_to_take').on(table.runId, table.environment, table.name)], // claim
)

/** Names held alone while a case run is with an agent. The primary key is what makes two claims at once
 * impossible. */
export const exclusiveHolds = pgTable('exclusive_holds', {
  name: text('name').primaryKey(),
  caseRunId: uuid('case_run_id')
    .notNull()
    .references(() => caseRuns.id, { onDelete: 'cascade' }),
})

/** The log of an attempt. `no` counts from 1 and is given by the agent: the same number twice is the same
 * event. */
export const events = pgTable(
  'events',
  {
    attemptId: uuid('attempt_id')
      .notNull()
      .references(() => attempts.id, { onDelete: 'cascade' }),
    no: integer('no').notNull(),
    body: jsonb('body').$type<AttemptEvent>().notNull(),
  },
  (table) => [primaryKey({ columns: [table.attemptId, table.no] })],
)

/** The log of an attempt that ended a while ago, in one compressed piece (log-piece.ts). What is asked of
 * whole runs stays in `events`, too: checks that failed, and checks of screens. */
export const attemptLogs = pgTable(
  'attempt_logs',
  {
    attemptId: uuid('attempt_id')
      .primaryKey()
      .references(() => attempts.id, { onDelete: 'cascade' }),
    events: integer('events').notNull(),
    lastNo: integer('last_no').notNull(),
    piece: bytes('piece').notNull(),
    /** Of a long log: what its reader shows first, so that it opens without reading all of it. */
    opening: jsonb('opening').$type<object>(),
    /** By what version of the code `opening` was made; 0: there is none. */
    openingVersion: integer('opening_version').notNull().default(0),
  },
  // the chore that makes openings
  (table) => [index('attempt_logs_opening').on(table.openingVersion, table.events)],
)

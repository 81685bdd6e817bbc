/** Runs and their case runs. Each index names the query it serves. */
import { sql } from 'drizzle-orm'
import {
  boolean,
  index,
  integer,
  jsonb,
  pgTable,
  serial,
  smallint,
  text,
  uniqueIndex,
  uuid,
} from 'drizzle-orm/pg-core'
import type { CaseRunState, FailureKind, Outcome, RunState } from '@/core/execution'
import type { ResultCase, ResultSuite } from '@/core/formats'
import type {
  Definition,
  Environment,
  PolicyUse,
  RecoveryPolicy,
  RetryAgent,
  RotationHow,
  Row,
} from '@/core/model'
import type { FinishForecast, RunForecast } from '@/core/view-models'
import { created, moment } from './columns'

export type RunSnapshot = {
  suite: { key: string; title: string }
  cases: Record<string, Extract<Definition, { kind: 'case' }>>
  routines: Record<string, Extract<Definition, { kind: 'routine' }>>
  environments: Environment[]
  /** Those that only roles of joint cases run on. */
  roleEnvironments?: Environment[]
  applications: Record<string, string>
  commit: string | null
  leftOut: { title: string; groups: string[]; why: string }[]
  /** Of a run that was taken in: the suites of its file. */
  resultSuites?: ResultSuite[]
  /** Absent in runs from before there were any. */
  policies?: Record<string, RecoveryPolicy>
}

/** A rehearsal leaves nothing in history; an imported run was made elsewhere; people do a guided one. */
export const RUN_KINDS = ['run', 'rehearsal', 'imported', 'guided'] as const

export const runs = pgTable(
  'runs',
  {
    id: serial('id').primaryKey(),
    title: text('title').notNull(),
    kind: text('kind', { enum: RUN_KINDS }).notNull().default('run'),
    /** A person steers its browser. */
    live: boolean('live').notNull().default(false),
    suiteKey: text('suite_key').notNull(),
    build: text('build').notNull(),
    /** Of the applications; absent: their usual addresses. */
    stage: text('stage'),
    state: text('state').$type<RunState>().notNull().default('waiting'),
    retries: integer('retries').notNull(),
    /** Kinds of failures that are tried again; empty: all. */
    retryOn: text('retry_on').array().$type<FailureKind[]>().notNull().default([]),
    retryAgent: text('retry_agent').$type<RetryAgent>().notNull().default('any'),
    /** Nothing of it is begun, and what runs waits before its next step. */
    paused: boolean('paused').notNull().default(false),
    /** Higher first, before everything else that decides what is claimed. */
    priority: smallint('priority').notNull().default(0),
    /** Some of it waits for other of it to be over. */
    ordered: boolean('ordered').notNull().default(false),
    /** Cancelled with undo steps left out: what it made stays to be looked at. */
    noUndo: boolean('no_undo').notNull().default(false),
    limitMs: integer('limit_ms').notNull(),
    startedBy: text('started_by').notNull(),
    snapshot: jsonb('snapshot').$type<RunSnapshot>().notNull(),
    createdAt: created(),
    startedAt: moment('started_at'),
    endedAt: moment('ended_at'),
    /** When it began to be cancelled. */
    cancellingAt: moment('cancelling_at'),
    /** For a run again: the run whose failures it repeats. */
    againOf: integer('again_of'),
    /** The rotation it was started by. */
    rotationKey: text('rotation_key'),
    /** A rehearsal is deleted then, unless it was kept. */
    goneAt: moment('gone_at'),
    /** Only agents of this pool take of it. */
    pool: text('pool'),
    /** What is done now: -1 what comes before all, 0 the cases, 1 what comes after all. */
    phase: smallint('phase').notNull().default(0),
    how: jsonb('how').$type<RotationHow>(),
    runLimitMs: integer('run_limit_ms'),
    stopAfter: integer('stop_after'),
    /** What was forecast when it started. */
    forecast: jsonb('forecast').$type<RunForecast>(),
    /** When it will be done as far as can be told now, from what has come in. */
    finish: jsonb('finish').$type<FinishForecast>(),
    /** By which version of signatures its failures were told apart; absent: not yet. */
    causesVersion: text('causes_version'),
    /** How many they were then; more may come while it goes on. */
    causesOf: integer('causes_of').notNull().default(0),
    /** Why it ended before everything was done. */
    endedWhy: text('ended_why'),
  },
  (table) => [
    index('runs_newest').on(table.createdAt), // day strip, Now
    index('runs_open').on(table.state), // what goes on
    index('runs_of_build').on(table.build), // how cases ended with it
    index('runs_live')
      .on(table.id)
      .where(sql`live and ended_at is null`), // how many sessions there are
    // does its last run still go on, how its forecasts were
    index('runs_of_rotation').on(table.rotationKey, table.id),
    index('runs_of_rotation_ended').on(table.rotationKey, table.endedAt), // those that others follow
  ],
)

export const caseRuns = pgTable(
  'case_runs',
  {
    id: uuid('id').primaryKey().defaultRandom(),
    runId: integer('run_id')
      .notNull()
      .references(() => runs.id, { onDelete: 'cascade' }),
    position: integer('position').notNull(),
    caseKey: text('case_key').notNull(),
    title: text('title').notNull(),
    groups: text('groups').array().notNull(),
    environment: text('environment').notNull(),
    /** Name of the only agent that may take it; empty: any. */
    agent: text('agent').notNull().default(''),
    /** -1: before all, 1: after all. */
    phase: smallint('phase').notNull().default(0),
    rowIndex: integer('row_index'),
    rowCount: integer('row_count'),
    row: jsonb('row').$type<Row>(),
    parameters: jsonb('parameters').$type<Record<string, string>>().notNull(),
    exclusive: text('exclusive').array().notNull(),
    priority: integer('priority').notNull().default(0),
    limitMs: integer('limit_ms').notNull(),
    estimateMs: integer('estimate_ms').notNull(),
    state: text('state').$type<CaseRunState>().notNull().default('waiting'),
    outcome: text('outcome').$type<Outcome>(),
    attempts: integer('attempts').notNull().default(0),
    /** The one to look at: the newest, or of a joint case's newest the one that decided. */
    shownAttempt: uuid('shown_attempt'),
    failureKind: text('failure_kind').$type<FailureKind>(),
    failureMessage: text('failure_message'),
    failurePath: text('failure_path'),
    startedAt: moment('started_at'),
    endedAt: moment('ended_at'),
    durationMs: integer('duration_ms'),
    /** Entries of the suite it stands in; `after` names those that have to be over first, `skips` those whose
     * rest goes with it when it does not pass. */
    scopes: text('scopes').array().notNull().default([]),
    after: text('after').array().notNull().default([]),
    skips: text('skips').array().notNull().default([]),
    stops: boolean('stops').notNull().default(false),
    /** Recovery policies, the nearest first. */
    policies: jsonb('policies').$type<PolicyUse[]>().notNull().default([]),
    /** Its failures do not fail the run. */
    quarantined: boolean('quarantined').notNull().default(false),
    /** For a second try: the agent it had, when the run wants that one, or any but that one. */
    wishAgent: text('wish_agent').notNull().default(''),
    avoidAgent: text('avoid_agent').notNull().default(''),
    /** Handoffs it takes. */
    needs: text('needs').array().notNull().default([]),
    /** Where and when the plan has it: the order of claims. */
    laneAgent: text('lane_agent').notNull().default(''),
    laneMs: integer('lane_ms').notNull().default(0),
    /** Nothing it waits for is open any more. */
    ready: boolean('ready').notNull().default(true),
    /** Roles of a joint case, and the environment of each, in the same order. */
    roles: text('roles').array().notNull().default([]),
    roleEnvironments: text('role_environments').array().notNull().default([]),
    /** Since when seats are kept free until all its roles have one. */
    gatheringAt: moment('gathering_at'),
  },
  (table) => [
    uniqueIndex('case_runs_of_run').on(table.runId, table.position, table.environment, table.agent),
    index('case_runs_to_claim')
      .on(table.runId, table.phase, table.environment, table.laneMs, table.priority.desc(), table.position)
      .where(sql`state = 'waiting' and ready and roles = '{}'`), // claim, from any lane
    index('case_runs_of_lane')
      .on(
        table.runId,
        table.phase,
        table.laneAgent,
        table.laneMs,
        table.priority.desc(),
        table.position,
        table.environment,
      )
      .where(sql`state = 'waiting' and ready and roles = '{}'`), // claim, from the agent's own
    index('case_runs_joint')
      .on(table.runId)
      .where(sql`state = 'waiting' and roles <> '{}'`), // claim of joint cases
    index('case_runs_behind')
      .on(table.runId, table.environment)
      .where(sql`state = 'waiting' and not ready`), // what an end lets begin
    index('case_runs_open')
      .on(table.runId, table.phase)
      .where(sql`state <> 'ended'`), // is the run, or its phase, over
    index('case_runs_history')
      .on(table.caseKey, table.environment, table.endedAt)
      .where(sql`ended_at is not null`), // estimates, last good
    index('case_runs_lately')
      .on(table.caseKey, table.endedAt)
      .where(sql`ended_at is not null`), // last outcomes of a case on any environment, its history
  ],
)

/** Cases whose failures fail no run for some days. */
export const quarantines = pgTable('quarantines', {
  caseKey: text('case_key').primaryKey(),
  until: moment('until').notNull(),
  because: text('because').notNull(),
  setBy: text('set_by').notNull(),
  setAt: moment('set_at').notNull().defaultNow(),
})

/** What a result file said of a case run that was made elsewhere. */
export const importedResults = pgTable('imported_results', {
  caseRunId: uuid('case_run_id')
    .primaryKey()
    .references(() => caseRuns.id, { onDelete: 'cascade' }),
  body: jsonb('body').$type<ImportedResult>().notNull(),
})
export type ImportedResult = Pick<
  ResultCase,
  'className' | 'file' | 'line' | 'type' | 'detail' | 'output' | 'errorOutput' | 'properties' | 'attachments'
>

/** Addresses at which a run can be read without signing in, until a day. Only their hashes are kept. */
export const sharedRuns = pgTable(
  'shared_runs',
  {
    id: uuid('id').primaryKey().defaultRandom(),
    runId: integer('run_id')
      .notNull()
      .references(() => runs.id, { onDelete: 'cascade' }),
    hash: text('hash').notNull().unique(),
    createdBy: text('created_by').notNull(),
    createdAt: created(),
    endsAt: moment('ends_at').notNull(),
    revokedAt: moment('revoked_at'),
    usedAt: moment('used_at'),
  },
  (table) => [index('shared_runs_of').on(table.runId)], // what a run is shared at
)

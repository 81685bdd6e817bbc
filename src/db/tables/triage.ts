/** Causes of failures, and what people decided of them. */
import { sql } from 'drizzle-orm'
import {
  boolean,
  index,
  integer,
  jsonb,
  pgTable,
  primaryKey,
  serial,
  text,
  uniqueIndex,
  uuid,
} from 'drizzle-orm/pg-core'
import type { Arm, DecisionKind, GroupFacts, Likelihoods, Proposed, SplitBy } from '@/core/triage'
import type { KeptCause } from '@/core/view-models'
import { attempts } from './attempts'
import { moment } from './columns'
import { defects } from './defects'
import { runs } from './runs'

/** Lines are added, and taken back; none is changed. The newest of a signature that was not taken back is
 * what is decided of it. */
export const causeDecisions = pgTable(
  'cause_decisions',
  {
    id: serial('id').primaryKey(),
    signature: text('signature').notNull(),
    as: text('decided_as').$type<DecisionKind>().notNull(),
    note: text('note').notNull(),
    /** The defect it is, of a known one. */
    defectId: integer('defect_id').references(() => defects.id, { onDelete: 'set null' }),
    build: text('build').notNull(),
    runId: integer('run_id').references(() => runs.id, { onDelete: 'set null' }),
    /** What the cause was called, and what there was to see of it. */
    title: text('title').notNull(),
    facts: jsonb('facts').$type<GroupFacts>().notNull(),
    /** What was proposed then; absent: nobody kept it. */
    proposed: jsonb('proposed').$type<Proposed['likely']>(),
    decidedBy: text('decided_by').notNull(),
    decidedAt: moment('decided_at').notNull().defaultNow(),
    takenBackBy: text('taken_back_by'),
    takenBackAt: moment('taken_back_at'),
  },
  (table) => [
    // what is decided of each signature
    index('cause_decisions_standing')
      .on(table.signature, table.id.desc().nullsFirst())
      .where(sql`${table.takenBackAt} is null`),
    index('cause_decisions_of_run').on(table.runId),
    // signatures that a defect was found to be
    index('cause_decisions_of_defect').on(table.defectId),
  ],
)

/** Causes that people take for one. Lines are added, and taken back. */
export const causeMerges = pgTable(
  'cause_merges',
  {
    id: serial('id').primaryKey(),
    signature: text('signature').notNull(),
    title: text('title').notNull(),
    into: text('into_signature').notNull(),
    intoTitle: text('into_title').notNull(),
    mergedBy: text('merged_by').notNull(),
    mergedAt: moment('merged_at').notNull().defaultNow(),
    takenBackBy: text('taken_back_by'),
    takenBackAt: moment('taken_back_at'),
  },
  (table) => [
    uniqueIndex('cause_merges_holding')
      .on(table.signature)
      .where(sql`${table.takenBackAt} is null`),
  ],
)

/** Parts of a cause that people set apart, told by `by` and `value`. Lines are added, and taken back. */
export const causeSplits = pgTable(
  'cause_splits',
  {
    id: serial('id').primaryKey(),
    signature: text('signature').notNull(),
    title: text('title').notNull(),
    by: text('by').$type<SplitBy>().notNull(),
    value: text('value').notNull(),
    words: text('words').notNull(),
    splitBy: text('split_by').notNull(),
    splitAt: moment('split_at').notNull().defaultNow(),
    takenBackBy: text('taken_back_by'),
    takenBackAt: moment('taken_back_at'),
  },
  (table) => [
    uniqueIndex('cause_splits_holding')
      .on(table.signature, table.by, table.value)
      .where(sql`${table.takenBackAt} is null`),
  ],
)

/** Who looks at what just now; `at`: when they last said so. */
export const lookers = pgTable('lookers', {
  person: text('person').primaryKey(),
  signature: text('signature').notNull(),
  at: moment('at').notNull().defaultNow(),
})

/** The causes of a run that has ended, as they were found when it had: Triage shows those of many runs. */
export const runCauses = pgTable(
  'run_causes',
  {
    runId: integer('run_id')
      .notNull()
      .references(() => runs.id, { onDelete: 'cascade' }),
    signature: text('signature').notNull(),
    cause: jsonb('cause').$type<KeptCause>().notNull(),
  },
  (table) => [
    primaryKey({ columns: [table.runId, table.signature] }),
    index('run_causes_of_signature').on(table.signature),
  ],
)

export type ExperimentArm = { arm: Arm; runId: number; environment: string; build: string; times: number }
/** Runs that were started to find out what a cause is. Lines are added, and none is changed. */
export const experiments = pgTable(
  'experiments',
  {
    id: serial('id').primaryKey(),
    signature: text('signature').notNull(),
    /** Of the failure it was started for. */
    build: text('build').notNull(),
    /** What was thought then. */
    likely: jsonb('likely').$type<Likelihoods>().notNull(),
    arms: jsonb('arms').$type<ExperimentArm[]>().notNull(),
    startedBy: text('started_by').notNull(),
    startedAt: moment('started_at').notNull().defaultNow(),
  },
  (table) => [
    // those of the causes that are looked at
    index('experiments_of_signature').on(table.signature, table.id.desc().nullsFirst()),
    // whether a run is one of them
    index('experiments_of_runs').using('gin', sql`${table.arms} jsonb_path_ops`),
  ],
)

/** Which steps a failure needs, found by trying: `going` until one of the others. `gone`: it did not fail
 * again. */
const SHORTENING_STATES = ['going', 'over', 'gone', 'stopped', 'problem'] as const
/** `kept`: places of steps; `same`: whether it failed in the same way, once its run has ended. */
export type TriedSteps = { kept: string[]; runId: number; same: boolean | null }
export const shortenings = pgTable(
  'shortenings',
  {
    id: serial('id').primaryKey(),
    attemptId: uuid('attempt_id')
      .notNull()
      .references(() => attempts.id, { onDelete: 'cascade' }),
    state: text('state', { enum: SHORTENING_STATES }).notNull().default('going'),
    tries: jsonb('tries').$type<TriedSteps[]>().notNull().default([]),
    /** Places that are enough, and those steps in words. */
    kept: jsonb('kept').$type<string[]>(),
    steps: text('steps'),
    isShortest: boolean('is_shortest').notNull().default(false),
    problem: text('problem'),
    startedBy: text('started_by').notNull(),
    startedAt: moment('started_at').notNull().defaultNow(),
  },
  (table) => [
    // what was found for the failure that is looked at
    index('shortenings_of_attempt').on(table.attemptId, table.id.desc().nullsFirst()),
    // those that go on: one of a failure
    uniqueIndex('shortenings_going')
      .on(table.attemptId)
      .where(sql`state = 'going'`),
  ],
)

/** Who is to decide a cause. Lines are added: the newest of a signature holds; an empty name is nobody. */
export const causeHandovers = pgTable(
  'cause_handovers',
  {
    id: serial('id').primaryKey(),
    signature: text('signature').notNull(),
    person: text('person').notNull(),
    note: text('note').notNull(),
    givenBy: text('given_by').notNull(),
    givenAt: moment('given_at').notNull().defaultNow(),
  },
  // who has each of the causes that are looked at
  (table) => [index('cause_handovers_of_signature').on(table.signature, table.id.desc().nullsFirst())],
)

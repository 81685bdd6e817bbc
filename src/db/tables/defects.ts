/** Defects. Each index names the query it serves. */
import { sql } from 'drizzle-orm'
import { index, integer, jsonb, pgTable, serial, text, uniqueIndex, uuid } from 'drizzle-orm/pg-core'
import { created, moment } from './columns'
import { attempts } from './attempts'
import { caseRuns, runs } from './runs'

export const DEFECT_STATES = ['draft', 'to-send', 'sent'] as const

export const defects = pgTable(
  'defects',
  {
    id: serial('id').primaryKey(),
    title: text('title').notNull(),
    steps: text('steps').notNull(),
    expected: text('expected').notNull(),
    actual: text('actual').notNull(),
    /** Where it happens and since when, as it was when it was logged. */
    occurs: text('occurs').notNull().default(''),
    severity: text('severity', { enum: ['low', 'normal', 'high', 'critical'] }).notNull(),
    environment: text('environment').notNull(),
    build: text('build').notNull(),
    evidence: jsonb('evidence').$type<DefectEvidence[]>().notNull(),
    attemptId: uuid('attempt_id').references(() => attempts.id, { onDelete: 'set null' }),
    /** Of a result that was taken in, in place of an attempt. */
    caseRunId: uuid('case_run_id').references(() => caseRuns.id, { onDelete: 'set null' }),
    caseKey: text('case_key').notNull(),
    runId: integer('run_id').notNull(),
    state: text('state', { enum: DEFECT_STATES }).notNull().default('draft'),
    /** Where it is mailed to; absent: it goes to the tracker. */
    mailTo: text('mail_to'),
    trackerNumber: text('tracker_number'),
    trackerState: text('tracker_state'),
    trackerUrl: text('tracker_url'),
    /** What it was last called there, where that is another title than ours was. */
    trackerTitle: text('tracker_title'),
    /** When the tracker was asked last where it stands. */
    trackerReadAt: moment('tracker_read_at'),
    sendTries: integer('send_tries').notNull().default(0),
    sendProblem: text('send_problem'),
    /** How many pieces of its evidence the tracker has. */
    attached: integer('attached').notNull().default(0),
    attachProblem: text('attach_problem'),
    createdBy: text('created_by').notNull(),
    createdAt: created(),
    sentAt: moment('sent_at'),
    version: integer('version').notNull().default(1),
  },
  (table) => [
    index('defects_newest').on(table.createdAt),
    index('defects_of_case').on(table.caseKey),
    index('defects_of_attempt').on(table.attemptId),
    index('defects_of_case_run').on(table.caseRunId), // when a run goes
    index('defects_of_number').on(table.trackerNumber),
    // of all that wait
    index('defects_to_send')
      .on(table.id)
      .where(sql`state = 'to-send'`),
    // of which the tracker is asked next
    index('defects_to_read')
      .on(table.trackerReadAt)
      .where(sql`state = 'sent' and tracker_number is not null and tracker_state is distinct from 'closed'`),
  ],
)
/** Runs that were to tell whether a defect is mended. */
export const confirmations = pgTable(
  'confirmations',
  {
    id: serial('id').primaryKey(),
    defectId: integer('defect_id')
      .notNull()
      .references(() => defects.id, { onDelete: 'cascade' }),
    runId: integer('run_id')
      .notNull()
      .references(() => runs.id, { onDelete: 'cascade' }),
    /** On each environment. */
    times: integer('times').notNull(),
    startedBy: text('started_by').notNull(),
    startedAt: moment('started_at').notNull().defaultNow(),
  },
  (table) => [
    index('confirmations_of_defect').on(table.defectId, table.id.desc().nullsFirst()),
    index('confirmations_of_run').on(table.runId),
  ],
)
/** Where defects came to stand at the tracker, each time that was another place than before. */
export const defectStates = pgTable(
  'defect_states',
  {
    id: serial('id').primaryKey(),
    defectId: integer('defect_id')
      .notNull()
      .references(() => defects.id, { onDelete: 'cascade' }),
    state: text('state').notNull(),
    at: moment('at').notNull().defaultNow(),
  },
  (table) => [
    // what each stood at before
    index('defect_states_of_defect').on(table.defectId, table.id),
    // how the work of some weeks went
    index('defect_states_newest').on(table.at),
  ],
)
/** What people say of a defect at the tracker: sent in their order, kept as long as the tracker is down. */
export const trackerMessages = pgTable(
  'tracker_messages',
  {
    id: serial('id').primaryKey(),
    defectId: integer('defect_id')
      .notNull()
      .references(() => defects.id, { onDelete: 'cascade' }),
    text: text('text').notNull(),
    /** The failure it tells of; each is told of once. */
    attemptId: uuid('attempt_id').references(() => attempts.id, { onDelete: 'set null' }),
    /** The same of a result that was taken in. */
    caseRunId: uuid('case_run_id').references(() => caseRuns.id, { onDelete: 'set null' }),
    /** What it is to become there. */
    state: text('state', { enum: ['open', 'closed'] }),
    /** Where it stood there when that was said; told besides so that a change there is not undone unseen. */
    seenState: text('seen_state'),
    /** Where it stands there instead: the message waits for somebody to decide. */
    otherState: text('other_state'),
    /** Who it is given to there. */
    assignee: text('assignee'),
    saidBy: text('said_by').notNull(),
    saidAt: moment('said_at').notNull().defaultNow(),
    sentAt: moment('sent_at'),
    tries: integer('tries').notNull().default(0),
    problem: text('problem'),
  },
  (table) => [
    // of the defect that is looked at, or whose messages are sent next
    index('tracker_messages_of_defect').on(table.defectId, table.id),
    // of all that waits
    index('tracker_messages_waiting')
      .on(table.id)
      .where(sql`sent_at is null`),
    uniqueIndex('tracker_messages_of_attempt')
      .on(table.defectId, table.attemptId)
      .where(sql`${table.attemptId} is not null`),
    uniqueIndex('tracker_messages_of_case_run')
      .on(table.defectId, table.caseRunId)
      .where(sql`${table.caseRunId} is not null`),
  ],
)
export type DefectEvidence = {
  kind: 'screen-before' | 'screen-after' | 'screen-marked' | 'video' | 'page-source' | 'display'
  hash: string
}

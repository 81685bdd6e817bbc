/** Tables of the product. Each index names the query it serves. */
import { sql } from 'drizzle-orm'
import { bigserial, boolean, customType, index, integer, jsonb, pgTable, primaryKey, serial, smallint, text, timestamp, uniqueIndex, uuid } from 'drizzle-orm/pg-core'
import type { Environment, EvidenceKind, FileProblem, Definition, DefinitionKind, PolicyUse, RecoveryPolicy, Resume, RetryAgent, RotationHow, Row } from '@/core/model'
import type { FinishForecast, RunForecast } from '@/core/sights'
import type { ResultCase } from '@/core/formats'
import type { AttemptEvent, AttemptOutcome, AttemptState, CaseRunState, FailureKind, Misbehaviour, Outcome, RunState } from '@/core/execution'

const moment = (name: string) => timestamp(name, { withTimezone: true })
const created = () => moment('created_at').notNull().defaultNow()

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
})

/** A file of a repository in which a reading found something to tell. */
export type FoundFile = { what: 'new' | 'changed' | 'moved' | 'removed' | 'conflict'; kind: DefinitionKind; key: string; title: string; file: string; changes: string[] }

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
    /** The repository's newer text, when it changed there while it was edited here. */
    theirs: text('theirs'),
    changedAt: moment('changed_at').notNull().defaultNow(),
  },
  (table) => [primaryKey({ columns: [table.kind, table.key] }), index('definitions_of_repository').on(table.repositoryId)],
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

/** Databases that `query` steps read, with a connection that may only read. */
export const databases = pgTable('databases', { key: text('key').primaryKey(), url: text('url').notNull() })

/** Values that cases use and nobody sees, sealed with the installation's secret. */
export const secrets = pgTable('secrets', {
  name: text('name').primaryKey(),
  sealed: text('sealed').notNull(),
  setBy: text('set_by').notNull(),
  setAt: moment('set_at').notNull().defaultNow(),
})

/** What a token is good for: serving as an agent, starting rotations, reading the rota as a calendar. */
export const TOKEN_PURPOSES = ['agent', 'ci', 'calendar'] as const

/** Tokens are stored as SHA-256, and shown once, when made. */
export const tokens = pgTable('tokens', {
  id: uuid('id').primaryKey().defaultRandom(),
  purpose: text('purpose', { enum: TOKEN_PURPOSES }).notNull(),
  name: text('name').notNull(),
  hash: text('hash').notNull().unique(),
  /** An agent's token may register this name only; empty: any. */
  scope: text('scope').notNull().default(''),
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
  /** As it said when it came first; a person may have moved it since. */
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
  misbehaviours: jsonb('misbehaviours').$type<Misbehaviour[]>().notNull().default([]),
  createdAt: created(),
})

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
  /** Absent in runs from before there were any. */
  policies?: Record<string, RecoveryPolicy>
}

/** A rehearsal leaves nothing in history; an imported run was made elsewhere. */
export const RUN_KINDS = ['run', 'rehearsal', 'imported'] as const

export const runs = pgTable(
  'runs',
  {
    id: serial('id').primaryKey(),
    title: text('title').notNull(),
    kind: text('kind', { enum: RUN_KINDS }).notNull().default('run'),
    suiteKey: text('suite_key').notNull(),
    build: text('build').notNull(),
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
    /** Why it ended before everything was done. */
    endedWhy: text('ended_why'),
  },
  (table) => [
    index('runs_newest').on(table.createdAt), // day strip, Now
    index('runs_open').on(table.state), // what goes on
    index('runs_of_rotation').on(table.rotationKey, table.id), // does its last run still go on, how its forecasts were
  ],
)

/** What became of each planned start. The primary key is what makes it happen once, however many workers look. */
export const occurrenceStarts = pgTable(
  'occurrence_starts',
  {
    rotationKey: text('rotation_key').notNull(),
    at: moment('at').notNull(),
    state: text('state', { enum: ['started', 'skipped', 'failed'] }).notNull(),
    runId: integer('run_id').references(() => runs.id, { onDelete: 'set null' }),
    why: text('why'),
  },
  (table) => [primaryKey({ columns: [table.rotationKey, table.at] }), index('occurrence_starts_between').on(table.at)], // the rota's past
)

/** Up to when a rotation's planned starts were looked at. Its row is locked while they are. */
export const rotaMarks = pgTable('rota_marks', { rotationKey: text('rotation_key').primaryKey(), seenUntil: moment('seen_until').notNull() })

export const caseRuns = pgTable(
  'case_runs',
  {
    id: uuid('id').primaryKey().defaultRandom(),
    runId: integer('run_id').notNull().references(() => runs.id, { onDelete: 'cascade' }),
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
    /** Entries of the suite it stands in; `after` names those that have to be over first, `skips` those whose rest goes with it when it does not pass. */
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
    index('case_runs_to_claim').on(table.runId, table.phase, table.environment, table.laneMs, table.priority.desc(), table.position).where(sql`state = 'waiting' and ready and roles = '{}'`), // claim, from any lane
    index('case_runs_of_lane').on(table.runId, table.phase, table.laneAgent, table.laneMs, table.priority.desc(), table.position, table.environment).where(sql`state = 'waiting' and ready and roles = '{}'`), // claim, from the agent's own
    index('case_runs_joint').on(table.runId).where(sql`state = 'waiting' and roles <> '{}'`), // claim of joint cases
    index('case_runs_behind').on(table.runId, table.environment).where(sql`state = 'waiting' and not ready`), // what an end lets begin
    index('case_runs_open').on(table.runId, table.phase).where(sql`state <> 'ended'`), // is the run, or its phase, over
    index('case_runs_history').on(table.caseKey, table.environment, table.endedAt).where(sql`ended_at is not null`), // last outcomes, estimates, last good
  ],
)

export const attempts = pgTable(
  'attempts',
  {
    id: uuid('id').primaryKey().defaultRandom(),
    caseRunId: uuid('case_run_id').notNull().references(() => caseRuns.id, { onDelete: 'cascade' }),
    runId: integer('run_id').notNull(),
    number: integer('number').notNull(),
    /** Of a joint case; empty: the whole case. */
    role: text('role').notNull().default(''),
    agentId: uuid('agent_id').notNull().references(() => agents.id),
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
    /** Words of the step it is at, and its newest screen: what Now and Fleet show. */
    atStep: text('at_step'),
    screen: text('screen'),
    /** Somebody looks at it until then: its agent sends what is on the screen about each second. */
    watchedUntil: moment('watched_until'),
    /** What its agent said of it after the lease had run out: refused, and kept so that people see it. */
    lateResult: text('late_result').$type<AttemptOutcome>(),
    /** Recovery rules that were used, in their order. */
    recoveries: jsonb('recoveries').$type<Recovery[]>().notNull().default([]),
    /** Kinds of evidence whose time was over: deleted. */
    dropped: text('dropped').array().$type<EvidenceKind[]>().notNull().default([]),
  },
  (table) => [
    uniqueIndex('attempts_of_case_run').on(table.caseRunId, table.number, table.role),
    index('attempts_open').on(table.runId).where(sql`state <> 'ended'`), // expired leases, shares of rotations; not of the lease itself, so that renewing one touches no index
    uniqueIndex('attempts_on_seats').on(table.agentId, table.seat).where(sql`state <> 'ended'`), // seats in use; never two on one
    index('attempts_of_run').on(table.runId), // lanes
    index('attempts_lately').on(table.claimedAt), // how busy the fleet was
    index('attempts_ended').on(table.endedAt).where(sql`ended_at is not null`), // whose evidence's time is over; failures of the last weeks
  ],
)

const bytes = customType<{ data: Buffer }>({ dataType: () => 'bytea' })

/** What is on the screen of an attempt that somebody looks at. Not evidence: the next one takes its place, and a crash may take it (unlogged). */
export const liveScreens = pgTable('live_screens', {
  attemptId: uuid('attempt_id').primaryKey(),
  at: moment('at').notNull(),
  mime: text('mime').notNull(),
  bytes: bytes('bytes').notNull(),
})

/** Which role of a joint case has come to which meeting point, in which try; `visit`: for the how-manieth time. */
export const jointArrivals = pgTable(
  'joint_arrivals',
  {
    caseRunId: uuid('case_run_id').notNull().references(() => caseRuns.id, { onDelete: 'cascade' }),
    number: integer('number').notNull(),
    point: text('point').notNull(),
    visit: integer('visit').notNull(),
    role: text('role').notNull(),
    at: moment('at').notNull().defaultNow(),
  },
  (table) => [primaryKey({ columns: [table.caseRunId, table.number, table.point, table.visit, table.role] })],
)

/** Values that a role of a joint case handed to the others, while they go on. */
export const jointValues = pgTable(
  'joint_values',
  {
    caseRunId: uuid('case_run_id').notNull().references(() => caseRuns.id, { onDelete: 'cascade' }),
    number: integer('number').notNull(),
    name: text('name').notNull(),
    value: text('value').notNull(),
    role: text('role').notNull(),
  },
  (table) => [primaryKey({ columns: [table.caseRunId, table.number, table.name] })],
)

/** A use of a recovery rule; `no` is the number of the event that told it. */
export type Recovery = { no: number; rule: string; result: 'worked' | 'failed'; ms: number; path: string; kind: FailureKind; resume: Resume; message?: string; tag?: string; application?: string }

/** Cases whose failures fail no run for some days. */
export const quarantines = pgTable('quarantines', {
  caseKey: text('case_key').primaryKey(),
  until: moment('until').notNull(),
  because: text('because').notNull(),
  setBy: text('set_by').notNull(),
  setAt: moment('set_at').notNull().defaultNow(),
})

/** Values that case runs handed on, for later ones of the same run and environment. */
export const handoffs = pgTable(
  'handoffs',
  {
    id: bigserial('id', { mode: 'number' }).primaryKey(),
    runId: integer('run_id').notNull().references(() => runs.id, { onDelete: 'cascade' }),
    environment: text('environment').notNull(),
    name: text('name').notNull(),
    value: text('value').notNull(),
    rowIndex: integer('row_index'),
    caseRunId: uuid('case_run_id').notNull().references(() => caseRuns.id, { onDelete: 'cascade' }),
  },
  (table) => [index('handoffs_to_take').on(table.runId, table.environment, table.name)], // claim
)

/** What a result file said of a case run that was made elsewhere. */
export const importedResults = pgTable('imported_results', {
  caseRunId: uuid('case_run_id').primaryKey().references(() => caseRuns.id, { onDelete: 'cascade' }),
  body: jsonb('body').$type<ImportedResult>().notNull(),
})
export type ImportedResult = Pick<ResultCase, 'className' | 'file' | 'line' | 'type' | 'detail' | 'output' | 'errorOutput' | 'properties' | 'attachments'>

/** Names held alone while a case run is with an agent. The primary key is what makes two claims at once impossible. */
export const exclusiveHolds = pgTable('exclusive_holds', {
  name: text('name').primaryKey(),
  caseRunId: uuid('case_run_id').notNull().references(() => caseRuns.id, { onDelete: 'cascade' }),
})

/** The log of an attempt. `no` counts from 1 and is given by the agent: the same number twice is the same event. */
export const events = pgTable(
  'events',
  {
    attemptId: uuid('attempt_id').notNull().references(() => attempts.id, { onDelete: 'cascade' }),
    no: integer('no').notNull(),
    body: jsonb('body').$type<AttemptEvent>().notNull(),
  },
  (table) => [primaryKey({ columns: [table.attemptId, table.no] })],
)

export const evidence = pgTable(
  'evidence',
  {
    hash: text('hash').primaryKey(),
    mime: text('mime').notNull(),
    bytes: integer('bytes').notNull(),
    createdAt: created(),
    /** When an agent last brought it or asked whether it is here: it may be about to use it. */
    seenAt: moment('seen_at').notNull().defaultNow(),
  },
  (table) => [index('evidence_seen').on(table.seenAt)], // what nothing uses
)

/** Which attempts show which piece; a piece that none shows is deleted. */
export const evidenceUses = pgTable(
  'evidence_uses',
  { attemptId: uuid('attempt_id').notNull().references(() => attempts.id, { onDelete: 'cascade' }), hash: text('hash').notNull(), kind: text('kind').$type<EvidenceKind>().notNull() },
  (table) => [primaryKey({ columns: [table.attemptId, table.hash, table.kind] }), index('evidence_uses_of').on(table.hash)],
)

/** Signed messages that were taken: the same one sent again starts nothing again. */
export const takenMessages = pgTable('taken_messages', { id: text('id').primaryKey(), at: moment('at').notNull().defaultNow() })

/** Addresses that are told what happens to runs, as CloudEvents signed by the secret. */
export const hooks = pgTable('hooks', {
  id: uuid('id').primaryKey().defaultRandom(),
  address: text('address').notNull(),
  events: text('events').array().notNull(),
  secret: text('secret').notNull(),
  createdBy: text('created_by').notNull(),
  createdAt: created(),
  lastAt: moment('last_at'),
  lastAnswer: text('last_answer'),
})

export const DEFECT_STATES = ['draft', 'to-send', 'sent'] as const

export const defects = pgTable(
  'defects',
  {
    id: serial('id').primaryKey(),
    title: text('title').notNull(),
    steps: text('steps').notNull(),
    expected: text('expected').notNull(),
    actual: text('actual').notNull(),
    severity: text('severity', { enum: ['low', 'normal', 'high', 'critical'] }).notNull(),
    environment: text('environment').notNull(),
    build: text('build').notNull(),
    evidence: jsonb('evidence').$type<DefectEvidence[]>().notNull(),
    attemptId: uuid('attempt_id').references(() => attempts.id, { onDelete: 'set null' }),
    caseKey: text('case_key').notNull(),
    runId: integer('run_id').notNull(),
    state: text('state', { enum: DEFECT_STATES }).notNull().default('draft'),
    trackerNumber: text('tracker_number'),
    trackerState: text('tracker_state'),
    trackerUrl: text('tracker_url'),
    sendTries: integer('send_tries').notNull().default(0),
    sendProblem: text('send_problem'),
    createdBy: text('created_by').notNull(),
    createdAt: created(),
    sentAt: moment('sent_at'),
    version: integer('version').notNull().default(1),
  },
  (table) => [index('defects_newest').on(table.createdAt), index('defects_of_case').on(table.caseKey), index('defects_of_attempt').on(table.attemptId)],
)
export type DefectEvidence = { kind: 'screen-before' | 'screen-after' | 'video' | 'page-source'; hash: string }

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

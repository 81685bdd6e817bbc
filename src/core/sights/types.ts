/** What each view is given, as JSON: the server makes it, the interface draws it. Moments are ISO 8601 in UTC. */
import type { Counts, Mark, Misbehaviour, OutlineLine, RuleHistory, RunState, Uncaught } from '../execution'
import type { BlackoutCalendar, MendedClash, OutlookBasis } from '../rota'
import type { Definition, DefinitionKind, Environment, EvidenceKind, FailureKind, FileProblem, LeftOut, OnFailure, Sentence } from '../model'

export type Role = 'viewer' | 'tester' | 'coordinator' | 'admin'
export type PersonSight = { name: string; username: string; role: Role }

export type RunLine = {
  id: number; title: string; build: string; suiteKey: string; state: RunState; paused: boolean; startedBy: string
  createdAt: string; startedAt: string | null; endedAt: string | null; counts: Counts; /** Failures in quarantine, among the counts: they do not fail the run. */ quarantined: number; failingCases: number; /** When it will be done, while it goes on. */ finish: FinishForecast | null
}

export type DayStripSight = { now: string; from: string; to: string; runs: RunLine[]; planned: RotaOccurrence[]; clashes: RotaClash[]; blackouts: RotaSight['blackouts']; agents: { alive: number; all: number; seatsBusy: number; seats: number } }

/** A sentence in parts; a part with `href` is a link, `tone` colours it like the mark of that name. */
export type BriefingPart = { text: string; href?: string; tone?: Mark | 'mark' }
export type WaitingItem = { id: string; mark: Mark; title: string; why: string; action: string; href: string; area: string }
export type SeatTile = { attemptId: string; mark: 'claimed' | 'running' | 'paused'; title: string; environment: string; agent: string; simulated: boolean; atStep: string | null; screen: string | null; startedAt: string; estimateMs: number }
export type NowSight = { greeting: string; subtitle: string; briefing: BriefingPart[]; waiting: WaitingItem[]; running: (RunLine & { seats: SeatTile[]; waitingSeats: boolean })[]; lately: RunLine[] }

export type RepositorySight = { id: number; name: string; location: string; branch: string; commit: string | null; readAt: string | null; problems: FileProblem[]; edits?: number }
export type SuiteNode = { key: string; title: string; cases: number; children: SuiteNode[] }
export type SuitesSight = { tree: SuiteNode[]; counts: Record<DefinitionKind, number>; repositories: RepositorySight[] }

export type PastMark = { mark: Mark; attemptId: string | null }
export type OutlineEntry = {
  id: string; depth: number; kind: 'case' | 'group' | 'suite'; title: string; caseKey?: string; suiteKey?: string; off: boolean; offAbove: boolean
  /** Entries of other suites are shown, and edited where they are. */
  own: boolean
  name?: string; rows: number; repeat: number; limitMs?: number; with: Record<string, string>; data?: string; after: string[]; onFailure?: OnFailure; uses: string[]; last: PastMark[]; estimateMs: number
  /** Values the case has of its own; what `with` gives goes before them. */
  parameters: Record<string, string>
}
export type SuiteSight = {
  key: string; title: string; rule: string | null; outline: OutlineEntry[]; planned: PlannedLine[]; cases: number; caseRuns: number; estimateMs: number; leftOut: LeftOut[]
  repository: { name: string; branch: string; readAt: string | null } | null
}

export type CaseStep = { path: string; depth: number; number: number; words: Sentence; off: boolean; because?: string; screen?: string }
export type CaseSight = {
  key: string; title: string; tags: string[]; requires: string[]; entry: string | null; uses: string[]; priority: string; file: string; source: string
  steps: CaseStep[]; undo: CaseStep[]; table: { file: string; columns: string[]; rows: Record<string, string>[] } | null; last: PastMark[]
}

export type StartOptions = {
  suites: { key: string; title: string; caseRuns: number; estimateMs: number }[]
  environments: (Pick<Environment, 'key' | 'title' | 'simulated'> & { seats: number })[]
  builds: string[]
}

/** What a start would come to on the seats that are here now, as if nothing else ran. Times from the start on. */
export type StartForecast = { caseRuns: number; seats: number; p50Ms: number; p90Ms: number; boundMs: number; bound: 'load' | 'critical-path' | 'exclusive' | 'single-item' | 'window'; expectedRetries: number; unplaceable: number }

/** What is kept of a forecast with its run: lanes as planned, a piece being [position, environment, start, end], in ms from the start on. */
/** When a run will be done, from what has come in: `pace` is what it took against what was expected, 1 as expected. Moments are ISO 8601. */
export type FinishForecast = { at: string; p50: string; p90: string; pace: number; left: number }
export type RunForecast = StartForecast & { lanes: { agent: string; seat: number; items: [position: number, environment: string, startMs: number, endMs: number][] }[] }

export type GridCell = { id: string; environment: string; mark: Mark; attempts: number; durationMs: number | null; estimateMs: number; attemptId: string | null; failure: string | null; failureKind: string | null; agent: string | null; screen: string | null }
export type GridRow = { position: number; caseKey: string; title: string; row: string | null; cells: (GridCell | null)[] }
export type GridGroup = { title: string; rows: GridRow[] }
export type LaneBar = { attemptId: string; title: string; environment: string; mark: Mark; number: number; from: string; to: string | null; estimateMs: number }
export type Lane = { agent: string; seat: number; simulated: boolean; bars: LaneBar[] }
export type RunSight = {
  run: RunLine & { retries: number; limitMs: number; againOf: number | null; commit: string | null; kind: 'run' | 'rehearsal' | 'imported'; goneAt: string | null; rotationKey: string | null; endedWhy: string | null }
  forecast: RunForecast | null; /** Seats at work on it now. */ seats: SeatTile[]; suiteTitle: string; environments: (Pick<Environment, 'key' | 'title' | 'simulated'> & { narrow: boolean })[]; groups: GridGroup[]; lanes: Lane[]; leftOut: LeftOut[]; failures: string[]
}

export type AttemptSight = {
  id: string; title: string; caseKey: string; runId: number; runTitle: string; build: string; environment: Pick<Environment, 'key' | 'title' | 'width' | 'height' | 'simulated'>
  agent: string; row: { index: number; of: number; values: Record<string, string> } | null; mark: Mark; number: number; startedAt: string | null; ms: number; facts: Record<string, string>
  /** Of a joint case; empty: the whole case. */
  role: string
  attempts: { id: string; number: number; role: string; mark: Mark; kind: string | null }[]
  lines: OutlineLine[]; notes: { atMs: number; text: string }[]; video: { hash: string; startMs: number } | null; source: string | null
  failures: string[]; lastGood: { attemptId: string; runId: number; runTitle: string; build: string } | null
  defects: { id: number; title: string; number: string | null; state: string }[]
  /** Kinds of evidence whose time was over. */
  dropped: EvidenceKind[]
  /** What its agent said of it when it was not its own any more. */
  lateResult: string | null
}

export type FleetAgentSight = {
  id: string; name: string; pool: string; seats: number; environments: string[]; simulated: boolean; /** Host its browsers are behind. */ through: string | null; draining: boolean; paused: boolean; alive: boolean; heartbeatAt: string; version: string; labels: string[]; /** Its clock against ours. */ clockOffMs: number; misbehaviours: Misbehaviour[]; missing: { what: string; get: string }[]
  /** Share of its seats' time at work in each of the last 24 hours, the newest last. */
  busy: number[]
  work: (SeatTile & { seat: number; runId: number })[]
}
/** `cover`: seats of live agents that can serve an environment in a pool, and the share of the last 24 hours they worked for it. */
export type FleetSight = { now: string; agents: FleetAgentSight[]; environments: (Environment & { seats: number })[]; cover: { environment: string; pool: string; seats: number; busy: number }[]; server: string }

export type Severity = 'low' | 'normal' | 'high' | 'critical'
export type DefectSight = {
  id: number; title: string; steps: string; expected: string; actual: string; severity: Severity; environment: string; build: string
  evidence: { kind: 'screen-before' | 'screen-after' | 'video' | 'page-source'; hash: string }[]
  attemptId: string | null; caseKey: string; runId: number; state: 'draft' | 'to-send' | 'sent'; trackerNumber: string | null; trackerState: string | null; trackerUrl: string | null
  sendTries: number; sendProblem: string | null; createdBy: string; createdAt: string; sentAt: string | null; version: number
}
export type DefectDraftSight = {
  title: string; steps: string; expected: string; actual: string; severity: Severity; environment: string; build: string; caseTitle: string; runId: number
  evidence: (DefectSight['evidence'][number] & { title: string })[]
}

export type FinderHit = { kind: 'case' | 'suite' | 'rotation' | 'policy' | 'run' | 'defect' | 'agent'; title: string; detail: string; href: string }

/** `uses`: how many cases and routines name it. No value and no password is ever among these. */
export type SettingsSight = {
  secrets: { name: string; setBy: string; setAt: string; uses: number }[]
  /** Named by a case and not set. */
  missing: string[]
  tokens: { id: string; purpose: 'agent' | 'ci' | 'calendar'; name: string; createdBy: string | null; createdAt: string; usedAt: string | null; agents: string[] }[]
  databases: { key: string; address: string; uses: number }[]
  calendars: (BlackoutCalendar & { uses: number })[]
  retention: Partial<Record<EvidenceKind, number>>; evidence: { pieces: number; bytes: number }
  hooks: { id: string; address: string; events: string[]; createdBy: string; lastAt: string | null; lastAnswer: string | null }[]
}

/** Facts of a definition for lists: no steps, no text. */
export type LibraryLine = { kind: DefinitionKind; key: string; title: string; tags: string[]; edited?: true; conflict?: true }
export type DraftSight = { definition?: Definition; problems: FileProblem[]; warnings: FileProblem[] }
/** Where something is used; `given`: names of the parameters it is given there. */
export type UseSight = { kind: DefinitionKind; key: string; title: string; how: string; given: string[] }
export type BenchSight = {
  kind: DefinitionKind; key: string; title: string; version: number; source: string; file: string; edited: boolean; theirs: string | null; changedAt: string
  repository: { id: number; name: string; branch: string } | null; repositories: { id: number; name: string }[]
  /** Rows of the table a case has. */
  rowCount: number
  draft: DraftSight; last: PastMark[]; screens: Record<string, string>; uses: UseSight[]
  offers: { routines: { key: string; title: string; parameters: string[] }[]; tables: string[]; applications: string[]; tags: string[] }
}
export type VersionSight = { number: number; at: string; who: string; how: 'made' | 'edited' | 'read' | 'restored' | 'moved' | 'removed'; changes: string[] }
/** `caseRuns`, `estimateMs`: of all it chooses, rows included, on one environment. */
export type RuleSight = { count: number; of: number; caseRuns: number; estimateMs: number; cases: { key: string; title: string; tags: string[]; priority: string }[] }
export type FoundSight = { what: 'new' | 'changed' | 'moved' | 'removed' | 'conflict'; kind: DefinitionKind; key: string; title: string; file: string; changes: string[] }
export type RepositoryDetailSight = Omit<RepositorySight, 'edits'> & {
  folder: string; found: FoundSight[]; everyMinutes: number; webhookSecret: string | null; edits: { kind: DefinitionKind; key: string; title: string; file: string; conflict: boolean; fresh: boolean }[]
}
export type ImportedSight = { className?: string; file?: string; line: number; type?: string; detail?: string; output?: string; errorOutput?: string; properties: Record<string, string>; attachments: string[] }
/** One line of what will run, numbered. */
export type PlannedLine = { title: string; groups: string[]; row: string | null; caseKey: string; estimateMs: number; after: string[]; values: { name: string; value: string; from: string }[] }

/** All that a rotation's forecast is computed from, and what its parts stand for. `why`: what is wrong with a part. */
export type RotationBasisSight = OutlookBasis & { parts: { title: string; items: number; why?: string }[]; leftOut: LeftOut[]; parameters: { name: string; value: string; from: string; cases: number }[] }
/** One forecast of a rotation beside what happened. `counts`: the run was not cancelled, so it says something about the forecast. */
export type PastForecast = { run: number; startedAt: string; ms: number; p50Ms: number; p90Ms: number; counts: boolean }
type Named = { key: string; title: string }
/** What a rotation may name, and how its forecasts were, newest first. */
export type RotationSight = { server: string; builds: string[]; calendars: Named[]; suites: Named[]; cases: Named[]; routines: Named[]; rotations: Named[]; policies: Named[]; /** Title of the one that counts for everything. */ workspacePolicy: string | null; pools: string[]; past: PastForecast[] }
export type StartsSight = { words: string; now: string; starts: { at: string; local: string; note?: string }[] }

export type RotaRotation = { key: string; title: string; paused: boolean; when: string | null; timezone: string | null; next: string | null; caseRuns: number; p50Ms: number; p90Ms: number; seats: Record<string, number>; problem?: string }
/** `seats`: by pool. `movedFrom`: the instant it was planned for before somebody moved it. */
export type RotaOccurrence = { id: string; rotation: string; title: string; at: string; local: string; p50Ms: number; p90Ms: number; seats: Record<string, number>; state: 'planned' | 'started' | 'skipped' | 'failed'; endedAt: string | null; runId?: number; note?: string; movedFrom?: string }
export type RotaClash = MendedClash
export type RotaSight = {
  now: string; from: string; to: string; pools: { id: string; seats: number }[]; rotations: RotaRotation[]; occurrences: RotaOccurrence[]; clashes: RotaClash[]; blackouts: { from: string; to: string; title: string; rotations: string[] }[]
}

/** `attached`: what names it; `workspace`: it counts for everything. */
export type PolicyLine = { key: string; title: string; rules: number; attached: { kind: 'case' | 'suite' | 'rotation'; key: string; title: string }[]; workspace: boolean }
export type RecoverySight = {
  policies: PolicyLine[]; quarantined: { caseKey: string; title: string; until: string; over: boolean; because: string; setBy: string }[]
  cases: { key: string; title: string }[]; routines: { key: string; title: string }[]
}
/** Rules by their ids in the policy. `failures`: how many moments of failure were looked at. */
export type RuleHistorySight = { days: number; failures: number; rules: RuleHistory[]; uncaught: Uncaught[] }
/** `why`: why a rule does not fit; `rule`: the one that would be used. */
export type RecoveryTried = { attempt: string; title: string; kind: FailureKind; message: string; because: string; rule: string | null; rules: { id: string; words: string; why: string | null }[] }

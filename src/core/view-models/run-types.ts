/** Starting a run, a run, and an attempt of it. */
import type { Counts, Mark, OutlineHead, RunState, TimedAttempt } from '../execution'
import type { ResultSuite } from '../formats'
import type { Environment, EvidenceKind, LeftOut, Missing } from '../model'
import type { GuidedShare } from './guided-types'

export type StartOptions = {
  suites: { key: string; title: string; caseRuns: number; estimateMs: number }[]
  /** Where there is no suite: single cases, as many as one can choose from. */
  cases: { key: string; title: string }[]
  environments: (Pick<Environment, 'key' | 'title' | 'simulated'> & { seats: number })[]
  builds: string[]
  /** Of any application, besides their usual addresses. */
  stages: string[]
  /** Who may carry out cases by hand. */
  people: string[]
}

/** What a start would come to on the seats that are here now, as if nothing else ran. Times from the start
 * on. */
export type KeptForecast = {
  caseRuns: number
  seats: number
  p50Ms: number
  p90Ms: number
  boundMs: number
  bound: 'load' | 'critical-path' | 'exclusive' | 'single-item' | 'window'
  expectedRetries: number
  unplaceable: number
}

/** The same before a start. `lacking`: what its cases name and Settings does not have, with how many of them
 * name it; `hindered`: none of it could be carried out. */
export type StartForecast = KeptForecast & {
  lacking: (Missing & { cases: number })[]
  hindered: boolean
}

/** When a run will be done, from what has come in: `pace` is what it took against what was expected, 1 as
 * expected. */
export type FinishForecast = { at: string; p50: string; p90: string; pace: number; left: number }

/** What is kept of a forecast with its run: lanes as planned, a piece being [position, environment, start,
 * end], in ms from the start on. */
export type RunForecast = KeptForecast & {
  lanes: {
    agent: string
    seat: number
    items: [position: number, environment: string, startMs: number, endMs: number][]
  }[]
}

export type GridCell = {
  id: string
  environment: string
  mark: Mark
  attempts: number
  durationMs: number | null
  estimateMs: number
  attemptId: string | null
  failure: string | null
  failureKind: string | null
  agent: string | null
  screen: string | null
}

export type GridRow = {
  position: number
  caseKey: string
  title: string
  row: string | null
  cells: (GridCell | null)[]
}

export type GridGroup = { title: string; rows: GridRow[] }

export type LaneBar = {
  attemptId: string
  title: string
  environment: string
  mark: Mark
  number: number
  from: string
  to: string | null
  estimateMs: number
}

export type Lane = { agent: string; seat: number; simulated: boolean; bars: LaneBar[] }

export type RunViewModel = {
  run: RunLine & {
    /** Of the applications, where it was not their usual addresses. */
    stage: string | null
    retries: number
    limitMs: number
    againOf: number | null
    commit: string | null
    kind: 'run' | 'rehearsal' | 'imported' | 'guided'
    goneAt: string | null
    rotationKey: string | null
    endedWhy: string | null
  }
  forecast: RunForecast | null
  /** Seats at work on it now. */ seats: SeatTile[]
  suiteTitle: string
  environments: (Pick<Environment, 'key' | 'title' | 'simulated'> & { narrow: boolean })[]
  groups: GridGroup[]
  lanes: Lane[]
  leftOut: LeftOut[]
  /** Of a run that was taken in: what its file says of its suites. */
  resultSuites?: ResultSuite[]
  /** Of a guided run: how far each person is. */
  shares: GuidedShare[]
  failures: string[]
}

/** How far a run is, for programs that wait for its end. */
export type RunProgress = Pick<RunLine, 'state' | 'counts'>

/** What a failing check expected, and what it found. */
export type Comparison = { attemptId: string; expected: string | null; actual: string | null }

export type OtherAttempt = {
  attemptId: string
  runTitle: string
  build: string
  environment: string
  agent: string
  mark: Mark
  endedAt: string
}

export type AttemptViewModel = {
  id: string
  title: string
  caseKey: string
  runId: number
  runTitle: string
  build: string
  environment: Pick<Environment, 'key' | 'title' | 'width' | 'height' | 'simulated'>
  /** A person did it: `agent` is their name. */
  byHand: boolean
  agent: string
  row: { index: number; of: number; values: Record<string, string> } | null
  mark: Mark
  number: number
  startedAt: string | null
  ms: number
  facts: Record<string, string>
  /** Of a joint case; empty: the whole case. */
  role: string
  /** `startMs`: from the start of this one; `null`: it has not begun. */
  attempts: (TimedAttempt & { number: number; mark: Mark; kind: string | null })[]
  /** Its lines are read part by part: `/api/attempts/ID/lines`. */
  outline: OutlineHead
  notes: { atMs: number; text: string }[]
  video: { hash: string; startMs: number } | null
  source: string | null
  /** A person steers it now. */
  live: boolean
  /** Hash of a picture of the whole display at the failure, where its agent has one. */
  display: string | null
  failures: string[]
  lastGood: { attemptId: string; runId: number; runTitle: string; build: string } | null
  /** Of the same case, the newest first: what it can be compared with. */
  others: OtherAttempt[]
  defects: { id: number; title: string; number: string | null; state: string }[]
  /** In the order they were made. */
  marked: MarkedScreen[]
  /** Who wants its evidence kept whatever retention says. */
  pinnedBy: string | null
  /** Kinds of evidence whose time was over. */
  dropped: EvidenceKind[]
  /** What its agent said of it when it was not its own any more. */
  lateResult: string | null
}

export type RunLine = {
  id: number
  title: string
  build: string
  suiteKey: string
  state: RunState
  paused: boolean
  startedBy: string
  createdAt: string
  startedAt: string | null
  endedAt: string | null
  counts: Counts
  /** Failures in quarantine, among the counts: they do not fail the run. */ quarantined: number
  failingCases: number
  /** When it will be done, while it goes on. */ finish: FinishForecast | null
}

/** A screen that somebody marked up: a picture of its own, beside the original. */
export type MarkedScreen = {
  id: string
  /** Of the line whose screen it was. */
  path: string
  original: string
  hash: string
  width: number
  height: number
  note: string
  markedBy: string
  markedAt: string
}

/** An address at which a run is read without signing in. */
export type SharedRunLine = {
  id: string
  createdBy: string
  createdAt: string
  endsAt: string
  usedAt: string | null
}

export type SeatTile = {
  attemptId: string
  mark: 'claimed' | 'running' | 'paused'
  title: string
  environment: string
  agent: string
  simulated: boolean
  atStep: string | null
  screen: string | null
  startedAt: string
  estimateMs: number
}

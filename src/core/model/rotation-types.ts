/** A rotation as types: a saved plan of what runs where, how and when. */
import type { Capture, EvidenceKind, FailureKind, Priority, Step } from './types'

export const MISSED = ['run', 'skip'] as const
export const WHILE_RUNNING = ['start', 'skip'] as const
export const ON_BLACKOUT = ['skip', 'delay'] as const

/** One thing that runs, in its place among the others. */
export type RotationPart = { suite: string } | { rule: string } | { case: string }
/** What tells environments apart; `screen` is "1280x800". */
export const AXES = ['browser', 'os', 'screen', 'locale'] as const
export type Axis = (typeof AXES)[number]
/** Environments that have one of the values on each axis that is named. */
export type EnvironmentRule = Partial<Record<Axis, string[]>>
export const COVERS = ['all', 'pairs', 'triples'] as const
export type Cover = (typeof COVERS)[number]
/** Over all seats; all on one seat; every agent does all of it; as `lanes` says. */
export const SPREADS = ['split', 'sequence', 'everywhere', 'assigned'] as const
export type Spread = (typeof SPREADS)[number]
/** Either `environments`, by their keys, or what is picked by `axes`: an axis that is not named may have any
 * value. */
export type RotationWhere = {
  environments?: string[]
  axes?: EnvironmentRule
  cover: Cover
  never: EnvironmentRule[]
  always: EnvironmentRule[]
  /** Absent: any pool that serves the environments. */
  pool?: string
  spread: Spread
  /** What can be placed nowhere is left out, and the rest runs; otherwise nothing starts. */
  leaveOut: boolean
  /** For `assigned`: the agent of a case, by the case's key. */
  lanes: Record<string, string>
}
/** Waits, and what is kept of each attempt. */
export type RotationHow = {
  /** After whatever changes the page. */
  settleMs: number
  /** Between steps. */
  betweenMs: number
  screens: Capture
  video: Capture
  console: Capture
  network: Capture
  /** Days after which it is deleted; of what is absent, the workspace says it. */
  keep: Partial<Record<EvidenceKind, number>>
}
/** Moments without a zone are local times of `timezone`. */
export type RotationTimes = {
  rule: string | null
  timezone: string
  start: string
  until?: string
  except: string[]
  blackout: { rule?: string; start: string; end: string }[]
  /** Names of calendars of the workspace: their times are blackouts too. */
  calendars: string[]
  onBlackout: (typeof ON_BLACKOUT)[number]
  /** Single starts that were put to another time: instead of `from`, at `to`. */
  moves: { from: string; to: string }[]
  /** What was due while nobody was there to start it: run once, late, or not at all. */
  missed: (typeof MISSED)[number]
  /** When it is due and its last run still goes on, or one of `notWith`. */
  whileRunning: (typeof WHILE_RUNNING)[number]
  /** Rotations beside which it does not start. */
  notWith: string[]
}
export const RETRY_AGENTS = ['any', 'same', 'other'] as const
export type RetryAgent = (typeof RETRY_AGENTS)[number]
export const FOLLOW_ON = ['ended', 'passed'] as const
export type Rotation = {
  kind: 'rotation'
  key: string
  title: string
  what: RotationPart[]
  /** Values over those of suites and cases. */
  with: Record<string, string>
  /** Done once, before anything else and after everything: what `before` hands off goes to every case. */
  before: Step[]
  after: Step[]
  /** A label, or `newest`. */
  build: string
  /** Stage of the applications; absent: their usual addresses. */
  stage?: string
  where: RotationWhere
  how: RotationHow
  retries: number
  /** Kinds of failures that are tried again; absent: all. */
  retryOn?: FailureKind[]
  /** Where a second try goes. */
  retryAgent: RetryAgent
  /** Key of a recovery policy, after those of cases and suites. */
  policy?: string
  /** Of one case run; `runLimitMs` of the whole. */
  limitMs: number
  runLimitMs?: number
  /** So many case runs failed: the rest is not begun. */
  stopAfter?: number
  priority: Priority
  /** Absent: it is started by hand, by other programs, and after others only. */
  when?: RotationTimes
  /** Started when a run of this rotation is over. */
  follows?: { rotation: string; on: (typeof FOLLOW_ON)[number] }
  paused: boolean
}

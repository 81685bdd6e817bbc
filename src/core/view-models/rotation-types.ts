/** Rotations, the rota and recovery. */
import type { RuleHistory, Uncaught } from '../execution'
import type { FixableClash, OutlookBasis } from '../rota'
import type { FailureKind, LeftOut } from '../model'
import type { BenchViewModel } from './bench-types'

/** All that a rotation's forecast is computed from, and what its parts stand for. `why`: what is wrong with a
 * part. */
export type RotationBasisViewModel = OutlookBasis & {
  parts: { title: string; items: number; why?: string }[]
  leftOut: LeftOut[]
  parameters: { name: string; value: string; from: string; cases: number }[]
}

/** One forecast of a rotation beside what happened. `counts`: the run was not cancelled, so it says something
 * about the forecast. */
export type PastForecast = {
  run: number
  startedAt: string
  ms: number
  p50Ms: number
  p90Ms: number
  counts: boolean
}

type Named = { key: string; title: string }

/** What a rotation may name, and how its forecasts were, newest first. */
export type RotationViewModel = {
  server: string
  builds: string[]
  /** Of any application, besides their usual addresses. */
  stages: string[]
  calendars: Named[]
  suites: Named[]
  cases: Named[]
  offers: BenchViewModel['offers']
  rotations: Named[]
  policies: Named[]
  /** Title of the one that counts for everything. */ workspacePolicy: string | null
  pools: string[]
  past: PastForecast[]
}

export type StartsViewModel = {
  words: string
  now: string
  starts: { at: string; local: string; note?: string }[]
  /** Why there is none: its last time has passed, or all that are left lie in times in which nothing
   * starts. */
  none?: 'over' | 'blackout'
}

export type RotaRotation = {
  key: string
  title: string
  paused: boolean
  when: string | null
  timezone: string | null
  next: string | null
  caseRuns: number
  p50Ms: number
  p90Ms: number
  seats: Record<string, number>
  problem?: string
}

/** `seats`: by pool. `movedFrom`: the instant it was planned for before somebody moved it. */
export type RotaOccurrence = {
  id: string
  rotation: string
  title: string
  at: string
  local: string
  p50Ms: number
  p90Ms: number
  seats: Record<string, number>
  state: 'planned' | 'started' | 'skipped' | 'failed'
  endedAt: string | null
  runId?: number
  /** How its run went, in a few words, once it has ended. */
  outcome?: { passed: boolean; words: string }
  note?: string
  movedFrom?: string
  /** Title of the rotation it starts behind: its time is no more than likely, and cannot be moved. */
  behind?: string
}

export type RotaClash = FixableClash

export type RotaViewModel = {
  now: string
  from: string
  to: string
  pools: { id: string; seats: number }[]
  rotations: RotaRotation[]
  occurrences: RotaOccurrence[]
  clashes: RotaClash[]
  blackouts: { from: string; to: string; title: string; rotations: string[] }[]
}

/** `attached`: what names it; `workspace`: it counts for everything. */
export type PolicyLine = {
  key: string
  title: string
  rules: number
  attached: { kind: 'case' | 'suite' | 'rotation'; key: string; title: string }[]
  workspace: boolean
}

export type RecoveryViewModel = {
  policies: PolicyLine[]
  quarantined: {
    caseKey: string
    title: string
    until: string
    over: boolean
    because: string
    setBy: string
  }[]
  cases: { key: string; title: string }[]
  routines: { key: string; title: string }[]
}

/** Rules by their ids in the policy. `failures`: how many moments of failure were looked at. */
export type RuleHistoryViewModel = {
  days: number
  failures: number
  rules: RuleHistory[]
  uncaught: Uncaught[]
}

/** `why`: why a rule does not fit; `rule`: the one that would be used. */
export type RecoveryTried = {
  attempt: string
  title: string
  kind: FailureKind
  message: string
  because: string
  rule: string | null
  rules: { id: string; words: string; why: string | null }[]
}

/** A report of a rotation that goes out by mail. */
export type ReportMailLine = {
  id: string
  recipients: string[]
  format: 'html' | 'pdf' | 'xlsx'
  /** Its last run, or so many of its last runs. */
  about: 'run' | 'runs'
  runs: number
  every: 'run' | 'day' | 'week'
  /** ISO: 1 is Monday. */
  weekday: number | null
  time: string | null
  zone: string | null
  nextAt: string | null
  lastAt: string | null
  lastProblem: string | null
  createdBy: string
}

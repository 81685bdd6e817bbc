/** Causes of failures, what is decided of them, and what is run to find out. */
import type {
  Arm,
  CauseName,
  ConfirmCounts,
  ConfirmVerdict,
  DecisionKind,
  Measures,
  Reliability,
} from '../triage'

/** What the failures of a run come down to. `places`: sentences. `likelihood`: from 0 to 1, by rules; nobody
 * has decided anything. */
export type RunCauseViewModel = {
  signature: string
  title: string
  failures: number
  cases: number
  environments: { failed: number; of: number }
  places: string[]
  likely: { cause: CauseName; likelihood: number }[]
  because: string[]
  /** A case of it did not fail with the build before. */
  isNew: boolean
  /** Ids of those that its cases are evidence for. */
  requirements: string[]
  /** The newest that was not taken back. */
  decision: CauseDecision | null
  /** `path`: of the step that failed, where one did. */
  members: {
    /** Of the case run. */
    id: string
    /** `null`: it was taken in from a result file. */
    attemptId: string | null
    caseKey: string
    title: string
    environment: string
    environmentKey: string
    row: string | null
    agent: string
    kind: string
    path: string | null
  }[]
}
/** What is kept of a cause of a run: some of its members. What earlier versions kept has no requirements. */
export type KeptCause = Omit<RunCauseViewModel, 'signature' | 'decision' | 'requirements'> &
  Partial<Pick<RunCauseViewModel, 'requirements'>>
/** A cause over the runs of some days; all but `runs` and `failures` is of the newest of them. */
export type TriageGroup = RunCauseViewModel & {
  /** `endedAt`: `null` while it goes on. */
  runs: { id: number; title: string; build: string; failures: number; endedAt: string | null }[]
  /** Found with the newest build of these runs. */
  isCurrent: boolean
  /** People who started a run it fails in, or gave it to somebody. */
  waiting: string[]
  /** Who is to decide it; `null`: nobody was named. */
  with: { person: string; note: string; by: string; at: string } | null
  /** Causes that people take for this one, the newest rule first. */
  merges: { id: number; title: string; by: string }[]
  /** Parts that were set apart of it; `isThis`: it is such a part itself. */
  splits: { id: number; words: string; title: string; by: string; isThis: boolean }[]
}
/** Where a case run fails and since when, in sentences; empty: nothing is known. */
export type OccursViewModel = { words: string }
/** Who looks at which cause. `ageMs`: since they last said so. */
export type LookersViewModel = { lookers: { person: string; signature: string; ageMs: number }[] }
/** Who does not say so for that long does not look any more. */
export const LOOKING_MS = 75_000
/** How far back Triage looks, in days; the first is usual. */
export const TRIAGE_DAYS = [2, 1, 7, 14] as const
/** `groups`: what is to be decided comes first. `pending`: runs whose failures were not looked at yet.
 * `lately`: decisions of seven days that hold, and how long after the end of its run the middle one came. */
export type TriageViewModel = {
  days: number
  groups: TriageGroup[]
  pending: number
  /** Who may be given a cause. */
  people: string[]
  lately: { decided: number; afterMs: number | null }
}

/** `stands`: it was decided of this build; of another, somebody has to look again. */
export type CauseDecision = {
  id: number
  as: DecisionKind
  note: string
  build: string
  by: string
  at: string
  stands: boolean
  /** Which known one it is. `number`: in the tracker. */
  defect: { id: number; title: string; number: string | null } | null
}
/** What was said of a defect at the tracker, the first first. `problem`: why it waits. */
export type TrackerMessageViewModel = {
  id: number
  text: string
  state: 'open' | 'closed' | null
  assignee: string | null
  /** The tracker has another state than its sender saw: somebody decides whether it is said. */
  conflict: { seen: string; now: string } | null
  by: string
  at: string
  sentAt: string | null
  tries: number
  problem: string | null
}

/** What waits to be sent to the tracker or by mail, the oldest first. `messageId`: a message of the defect;
 * absent: the defect itself. `nextAt`: when it is tried again by itself; `null`: not any more. */
export type OutboxEntry = {
  defectId: number
  title: string
  messageId: number | null
  what: string
  to: string
  by: string
  since: string
  tries: number
  problem: string | null
  conflict: { seen: string; now: string; wanted: string } | null
  nextAt: string | null
}

/** Which steps a failure needs, found by trying. `kept` of `of` steps are enough, as far as is known. */
export type ShorteningViewModel = {
  id: number
  state: 'going' | 'over' | 'gone' | 'stopped' | 'problem'
  of: number
  kept: number
  tries: number
  most: number
  isShortest: boolean
  /** The steps that are enough, in words. */
  steps: string | null
  problem: string | null
  by: string
  at: string
}
/** `why`: what stands against trying. */
export type ShorteningsViewModel = {
  found: ShorteningViewModel | null
  canTry: boolean
  why: string | null
  /** One try is likely to take so long. */
  ms: number
  most: number
}

/** Runs that would tell what a failure is, and those that were made. `share`: of not knowing it, how much
 * they are expected to take away. */
export type ExperimentsViewModel = {
  plan: {
    share: number
    caseRuns: number
    ms: number
    arms: { arm: Arm; environment: string; build: string; times: number }[]
  } | null
  /** The newest first. */
  past: ExperimentViewModel[]
}
export type ExperimentViewModel = {
  id: number
  build: string
  by: string
  at: string
  arms: {
    arm: Arm
    runId: number
    environment: string
    build: string
    times: number
    passed: number
    failed: number
    other: number
    open: number
  }[]
  /** The likeliest first; `null`: some of its runs go on. */
  told: { cause: CauseName; before: number; after: number }[] | null
}
/** `since`: when the oldest of these was made. */
export type ReliabilityViewModel = Reliability & { since: string | null }
/** `failed` of `of`: how often its case failed on the build it was found in, where it failed at all. `times`:
 * so often it has to pass now, which makes `confidence` sure. */
export type ConfirmationsViewModel = {
  foundIn: string
  failed: number
  of: number
  times: number
  confidence: number
  wanted: number
  /** `failed`: how often there. */
  environments: { key: string; title: string; failed: number }[]
  /** The newest first. */
  builds: string[]
  past: {
    runId: number
    build: string
    times: number
    by: string
    at: string
    counts: ConfirmCounts
    verdict: ConfirmVerdict
  }[]
}
/** `state`: as the tracker says, else ours. `likeness`: from 0 to 1. */
export type KnownDefect = {
  id: number
  title: string
  number: string | null
  state: string
  likeness: number
  because: string
}
/** `of`: how many failures there are; `looked`: of how many of them the causes tell; `learntFrom`: decisions
 * that the likelihoods have learnt from. What is to be decided comes first. */
export type RunCausesViewModel = {
  causes: RunCauseViewModel[]
  of: number
  looked: number
  learntFrom: number
}
/** Over how many weeks the work is measured; the first is usual. */
export const MEASURED_WEEKS = [4, 12, 26] as const
/** `proposals`: how often the first one was right, of the decisions that know what was proposed. `titles`: of
 * rotations, by key. */
export type MeasuresViewModel = Measures & {
  proposals: { of: number; right: number }
  titles: Record<string, string>
}

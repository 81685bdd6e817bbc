/** What an agent is given to do, and what it says while doing it. Both travel as JSON
 * (docs/agent-protocol.md). */
import type {
  Environment,
  EvidenceKind,
  FailureKind,
  RecoveryRule,
  Resume,
  RotationHow,
  Routine,
  Row,
  TestCase,
} from '../model'
import type { Region } from '../vision'
import type { AttemptOutcome, Failure } from './outcomes'
import type { RecoveryUse } from './recover'

/** A rule with the policy it is of, and where that is attached: "the case", "the suite Gate". Its id holds
 * the policy's key. */
export type WorkRule = RecoveryRule & { policy: string; from: string }

/** One attempt, complete: an agent needs nothing else but the applications themselves. */
export type Work = {
  /** The agent it is given to. */
  agentId: string
  attemptId: string
  /** Fencing number: everything sent for this attempt carries it. */
  lease: number
  number: number
  runId: number
  build: string
  case: TestCase
  routines: Routine[]
  environment: Environment
  row?: Row
  parameters: Record<string, string>
  /** Base address by application key, the build already in it. */
  applications: Record<string, string>
  /** Connection by database key; agents read with it and never log it. */
  databases: Record<string, string>
  /** Secrets the case refers to, by name. */
  secrets: Record<string, string>
  /** Pictures its targets are looked for by, by name: PNG, base64. Absent: none. */
  pictures?: Record<string, string>
  /** Screens its checks compare with, by their names in the checks. Absent: none was accepted. */
  screens?: Record<string, AcceptedScreen>
  /** Handoffs the case takes, by name. */
  handoffs: Record<string, string>
  /** When the attempt was given out, ISO 8601: dates count from it. */
  startedAt: string
  limitMs: number
  /** Waits and what is kept; absent: no waits, everything kept. */
  how?: RotationHow
  /** Rules in the order they are tried, and what was used of them in earlier attempts and in the whole run.
   * Absent: none. */
  recovery?: {
    rules: WorkRule[]
    budgetMs?: number
    history: RecoveryUse[]
    usedMs: number
    usedInRun: Record<string, number>
  }
  /** A person steers it: its steps are not carried out by themselves. */
  live?: true
  /** The role of a joint case that this attempt plays; absent: the whole case. */
  role?: string
  /** Makes everything random in the attempt repeatable. */
  seed: number
}

/** What a check of a screen compares with. `ignore`: in pixels of the picture. */
export type AcceptedScreen = {
  hash: string
  /** PNG, base64. */
  png: string
  ignore: Box[]
  /** Share of the picture that may differ, from 0 to 1. */
  most: number
  /** The environment it was accepted on, where it is not the attempt's own. */
  from?: string
}

/** Words kept from the sentence of a step, so that a log reads the same after the case was edited. */
export type StepWords = { verb: string; object: string; detail: string }
export type Box = { x: number; y: number; w: number; h: number }

/** What happens in an attempt. `atMs` counts from the start of the attempt; `path` is dotted, e.g.
 * "main.3.0". */
export type AttemptEvent = { atMs: number } & (
  | { type: 'started'; agent: string; facts: Record<string, string> }
  | {
      type: 'step-started'
      path: string
      words: StepWords
      values?: Record<string, string>
      because?: string
    }
  | {
      type: 'step-ended'
      path: string
      outcome: StepOutcome
      ms: number
      failure?: Omit<Failure, 'path'>
      box?: Box
      note?: string
    }
  | { type: 'screen'; path: string; phase: 'before' | 'after'; hash: string; width: number; height: number }
  | ({ type: 'screen-check'; path: string } & ScreenCheck)
  | { type: 'console'; path: string; level: string; text: string }
  | { type: 'request'; path: string; method: string; url: string; status: number; ms: number }
  /** Headers and bodies of a request that failed, as a piece of text; it may come under a later step. */
  | { type: 'exchange'; path: string; url: string; askedAtMs: number; hash: string }
  /** The step led to another page. */
  | { type: 'page'; path: string; url: string; title: string }
  | { type: 'value'; path: string; name: string; value: string }
  | {
      type: 'evidence'
      kind: 'video' | 'page-source' | 'display'
      hash: string
      path?: string
      startMs?: number
    }
  | { type: 'note'; text: string }
  /** A branch of the log, beside the step it was needed at: `path` is that step's with "!1", `at` the step's
   * own. */
  | {
      type: 'recovery-started'
      path: string
      at: string
      rule: string
      policy: string
      from: string
      words: string
      because: string
      resume: Resume
      kind: FailureKind
    }
  | {
      type: 'recovery-ended'
      path: string
      at: string
      rule: string
      result: 'worked' | 'failed'
      ms: number
      resume: Resume
      /** Of the failure it was for. */ kind: FailureKind
      message?: string
      tag?: string
      application?: string
      failure?: Omit<Failure, 'path'>
      note?: string
    }
  /** A recovery rule has the case begin again in the same browser; what was done so far is undone. */
  | { type: 'begun-again'; round: number }
)
/** A screen as a check took it, and how it compares with the one that was accepted; proposed: there is none
 * yet. */
export type ScreenCheck = {
  name: string
  result: 'same' | 'differs' | 'proposed'
  hash: string
  width: number
  height: number
  /** Hash of the accepted picture. */
  accepted?: string
  /** The environment that one is of, where it is another. */
  from?: string
  ratio?: number
  regions?: Region[]
  /** Boxes that were not looked at, in pixels of the picture. */
  ignore?: Box[]
}
export type StepOutcome = 'passed' | 'failed' | 'errored' | 'skipped'
/** The piece of evidence an event shows, and as what kind it is kept. */
export function evidenceOf(event: AttemptEvent): { hash: string; kind: EvidenceKind } | undefined {
  if (event.type === 'screen' || event.type === 'screen-check') return { hash: event.hash, kind: 'screens' }
  if (event.type === 'exchange') return { hash: event.hash, kind: 'network' }
  if (event.type === 'evidence')
    return { hash: event.hash, kind: event.kind === 'video' ? 'video' : 'screens' }
  return undefined
}
export type NumberedEvent = AttemptEvent & { no: number }

export type AttemptResult = {
  outcome: AttemptOutcome
  failure?: Failure
  ms: number
  handoffs?: Record<string, string>
  /** Why nothing more of the run is to begin. */ stopRun?: string
}

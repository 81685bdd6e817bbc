/** What the views of guided runs are given: work that waits for people, and the sheet of a case. */
import type { GuidedStep, GuidedVerdict, GuidedVideo } from '../guided'

export type GuidedWork = {
  id: string
  runId: number
  runTitle: string
  build: string
  caseKey: string
  title: string
  environment: string
  row: { index: number; of: number } | null
  /** Empty: nobody's yet. */
  person: string
  estimateMs: number
  workedMs: number
  judged: number
  /** False: something of the run has to be over first. */
  ready: boolean
  savedAt: string | null
}

/** `people`: who may be given work. */
export type GuidedListViewModel = { work: GuidedWork[]; people: string[]; more: boolean }

export type GuidedSheetViewModel = {
  id: string
  runId: number
  runTitle: string
  build: string
  caseKey: string
  title: string
  environment: { key: string; title: string; browser: string; os: string }
  /** Values of the row it is done with. */
  row: Record<string, string> | null
  /** Which of its table, from 1, and of how many. */
  rowAt: { index: number; of: number } | null
  /** Where its applications are. */
  addresses: Record<string, string>
  person: string
  steps: GuidedStep[]
  verdicts: GuidedVerdict[]
  facts: Record<string, string>
  video: GuidedVideo | null
  workedMs: number
  /** 0: nothing was said yet. */
  version: number
  ready: boolean
  /** The attempt it became; else it is open. */
  ended: { attemptId: string | null } | null
  /** What of this person's work comes next. */
  next: { id: string; title: string } | null
}
export type GuidedShare = { person: string; of: number; done: number; leftMs: number }

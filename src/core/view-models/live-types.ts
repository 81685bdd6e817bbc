import type { BenchViewModel } from './bench-types'

/** A live session as its page begins: what it is for, and where it is. */
export type LiveSessionViewModel = {
  attemptId: string
  runId: number
  caseKey: string
  title: string
  build: string
  agent: string
  environment: { key: string; title: string; width: number; height: number }
  /** Keys of applications. */
  applications: string[]
  /** The attempt is over. */
  ended: boolean
  bench: BenchViewModel
}

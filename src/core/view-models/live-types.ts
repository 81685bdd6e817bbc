import type { KnownRoutine } from '../live'
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
  routines: KnownRoutine[]
  /** Which of the table of the case it began with, from 1. */
  row: number | null
  /** The attempt is over. */
  ended: boolean
  bench: BenchViewModel
}

/** How a session stands while it goes on. */
export type LiveStandingViewModel = {
  /** Its attempt has ended. */
  over: boolean
  /** A run that waits for its seat. `waiting`: how many of its case runs could be begun on that seat, and on
   * no other that is free. */
  wantedBy: { id: number; title: string; waiting: number } | null
}

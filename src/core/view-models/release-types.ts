/** Whether a build can go out: its sheet, its requirements, and who signed what. */
import type { Coverage, CoveredRequirement, RequirementChanges, ReleaseSheet } from '../requirements'

export type ReleaseDecision = 'goes' | 'stays'
export type SignedRelease = {
  id: number
  build: string
  decision: ReleaseDecision
  note: string
  sha256: string
  by: string
  at: string
}
/** `build`: `null` where there is none. `seen`: names what the sheet says, so that nobody signs another one.
 * `environments`: those that anything ran on. `cases`: titles by key. */
export type ReleaseViewModel = {
  builds: string[]
  build: string | null
  sheet: ReleaseSheet | null
  seen: string
  requirements: CoveredRequirement[]
  counts: Record<Coverage, number>
  unknown: { key: string; cases: string[] }[]
  environments: { key: string; title: string }[]
  cases: Record<string, string>
  /** The newest first. */
  signed: SignedRelease[]
}
export type RequirementTitle = { key: string; title: string }
/** `cells`: by requirement and build; absent: nothing of it ran with that build. */
export type BuildsViewModel = { builds: string[]; cells: Record<string, Record<string, Coverage>> }
/** `wouldLose`: cases that name one that goes. */
export type RequirementsTaken = RequirementChanges & { all: number; wouldLose: string[] }

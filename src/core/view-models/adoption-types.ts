import type { DefinitionKind } from '../model'

/** Which failed checks: the one at a path, those of the run that expected and found the same, those of the
 * run that have the same cause, or all of the run. */
export const ADOPTED_CHECKS = ['one', 'alike', 'cause', 'run'] as const
export type AdoptedChecks = (typeof ADOPTED_CHECKS)[number]

/** A check that failed, where it did. */
type Failed = { attemptId: string; path: string; title: string; environment: string }
export type AdoptionViewModel = {
  files: {
    kind: DefinitionKind
    key: string
    /** The version that would change. */
    version: number
    before: string
    after: string
    changes: (Failed & { where: string; was: string; becomes: string })[]
  }[]
  refused: (Failed & { why: string })[]
}
export type AdoptedFile = { kind: DefinitionKind; key: string; version: number; before: number }

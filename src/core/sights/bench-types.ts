/** Definitions under edit, and what is found and read of them. */
import type { Definition, DefinitionKind, FileProblem } from '../model'
import type { RepositorySight, PastMark } from './suite-types'

/** Facts of a definition for lists: no steps, no text. */
export type LibraryLine = {
  kind: DefinitionKind
  key: string
  title: string
  tags: string[]
  edited?: true
  conflict?: true
}

export type DraftSight = { definition?: Definition; problems: FileProblem[]; warnings: FileProblem[] }

/** Where something is used; `given`: names of the parameters it is given there. */
export type UseSight = { kind: DefinitionKind; key: string; title: string; how: string; given: string[] }

export type BenchSight = {
  kind: DefinitionKind
  key: string
  title: string
  version: number
  source: string
  file: string
  edited: boolean
  theirs: string | null
  changedAt: string
  repository: { id: number; name: string; branch: string } | null
  repositories: { id: number; name: string }[]
  /** Rows of the table a case has. */
  rowCount: number
  draft: DraftSight
  last: PastMark[]
  screens: Record<string, string>
  uses: UseSight[]
  offers: {
    routines: { key: string; title: string; parameters: string[] }[]
    tables: string[]
    applications: string[]
    tags: string[]
  }
}

export type VersionSight = {
  number: number
  at: string
  who: string
  how: 'made' | 'edited' | 'read' | 'restored' | 'moved' | 'removed'
  changes: string[]
}

/** `caseRuns`, `estimateMs`: of all it chooses, rows included, on one environment. */
export type RuleSight = {
  count: number
  of: number
  caseRuns: number
  estimateMs: number
  cases: { key: string; title: string; tags: string[]; priority: string }[]
}

export type FoundSight = {
  what: 'new' | 'changed' | 'moved' | 'removed' | 'conflict'
  kind: DefinitionKind
  key: string
  title: string
  file: string
  changes: string[]
}

export type RepositoryDetailSight = Omit<RepositorySight, 'edits'> & {
  folder: string
  found: FoundSight[]
  everyMinutes: number
  webhookSecret: string | null
  edits: {
    kind: DefinitionKind
    key: string
    title: string
    file: string
    conflict: boolean
    fresh: boolean
  }[]
}

export type ImportedSight = {
  className?: string
  file?: string
  line: number
  type?: string
  detail?: string
  output?: string
  errorOutput?: string
  properties: Record<string, string>
  attachments: string[]
}

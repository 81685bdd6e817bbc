/** Definitions under edit, and what is found and read of them. */
import type { Definition, DefinitionKind, FileProblem, Use } from '../model'
import type { RepositoryViewModel, PastMark } from './suite-types'

/** Facts of a definition for lists: no steps, no text. */
export type LibraryLine = {
  kind: DefinitionKind
  key: string
  title: string
  tags: string[]
  edited?: true
  conflict?: true
  /** The last reading had something to say of its file. */
  broken?: true
}

export type DraftViewModel = { definition?: Definition; problems: FileProblem[]; warnings: FileProblem[] }

export type BenchViewModel = {
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
  /** Why the repository's newest text of it cannot be read; shown is the last good one. */
  broken: FileProblem[]
  repositories: { id: number; name: string }[]
  /** Rows of the table a case has. */
  rowCount: number
  draft: DraftViewModel
  last: PastMark[]
  screens: Record<string, string>
  uses: Use[]
  offers: {
    routines: { key: string; title: string; parameters: string[] }[]
    tables: string[]
    applications: string[]
    databases: string[]
    tags: string[]
  }
}

export type VersionViewModel = {
  number: number
  at: string
  who: string
  how: 'made' | 'edited' | 'read' | 'restored' | 'moved' | 'removed'
  changes: string[]
}

/** `caseRuns`, `estimateMs`: of all it chooses, rows included, on one environment. */
export type RuleViewModel = {
  count: number
  of: number
  caseRuns: number
  estimateMs: number
  cases: { key: string; title: string; tags: string[]; priority: string }[]
  /** Names in it that no case has, as sentences without their end. */
  unknown: string[]
}

export type FoundViewModel = {
  what: 'new' | 'changed' | 'moved' | 'removed' | 'conflict'
  kind: DefinitionKind
  key: string
  title: string
  file: string
  changes: string[]
}

export type RepositoryDetailViewModel = Omit<RepositoryViewModel, 'edits'> & {
  folder: string
  found: FoundViewModel[]
  everyMinutes: number
  /** What git gives the server to be let in. */
  access: 'none' | 'token' | 'key'
  webhookSecret: string | null
  webhookToken: string | null
  edits: {
    kind: DefinitionKind
    key: string
    title: string
    file: string
    conflict: boolean
    fresh: boolean
    /** A branch that has just this text: it waits there to be merged. */
    on: string | null
  }[]
}

export type ImportedViewModel = {
  /** Of its failure. */
  message?: string
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

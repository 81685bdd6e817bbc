/** Suites, repositories and cases. */
import type { Mark } from '../execution'
import type { DefinitionKind, FileProblem, LeftOut, OnFailure, Sentence } from '../model'

export type RepositoryViewModel = {
  id: number
  name: string
  location: string
  branch: string
  commit: string | null
  readAt: string | null
  problems: FileProblem[]
  edits?: number
}

export type SuiteNode = { key: string; title: string; cases: number; children: SuiteNode[] }

export type SuitesViewModel = {
  tree: SuiteNode[]
  counts: Record<DefinitionKind, number>
  repositories: RepositoryViewModel[]
  /** Keys of the applications. */
  applications: string[]
}

export type PastMark = { mark: Mark; attemptId: string | null }

export type OutlineEntry = {
  id: string
  depth: number
  kind: 'case' | 'group' | 'suite'
  title: string
  caseKey?: string
  suiteKey?: string
  off: boolean
  offAbove: boolean
  /** Entries of other suites are shown, and edited where they are. */
  own: boolean
  name?: string
  rows: number
  repeat: number
  limitMs?: number
  with: Record<string, string>
  data?: string
  after: string[]
  onFailure?: OnFailure
  uses: string[]
  last: PastMark[]
  estimateMs: number
  /** Values the case has of its own; what `with` gives goes before them. */
  parameters: Record<string, string>
}

export type SuiteViewModel = {
  key: string
  title: string
  rule: string | null
  outline: OutlineEntry[]
  planned: PlannedLine[]
  cases: number
  caseRuns: number
  estimateMs: number
  leftOut: LeftOut[]
  repository: { name: string; branch: string; readAt: string | null } | null
}

export type CaseStep = {
  path: string
  depth: number
  number: number
  words: Sentence
  off: boolean
  because?: string
  screen?: string
}

export type CaseViewModel = {
  key: string
  title: string
  tags: string[]
  requires: string[]
  entry: string | null
  uses: string[]
  priority: string
  file: string
  /** What the last reading of its repository said of the file. */
  problems: FileProblem[]
  source: string
  steps: CaseStep[]
  undo: CaseStep[]
  table: { file: string; columns: string[]; rows: Record<string, string>[] } | null
  last: PastMark[]
}

/** One line of what will run, numbered. */
export type PlannedLine = {
  title: string
  groups: string[]
  row: string | null
  caseKey: string
  estimateMs: number
  after: string[]
  values: { name: string; value: string; from: string }[]
}

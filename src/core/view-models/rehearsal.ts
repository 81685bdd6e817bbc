/** A rehearsal before it starts: what is chosen for it, what is asked of the server, where one goes then. */
import { cellsOf } from './run-view'
import type { RunViewModel, StartOptions } from './run-types'

/** What is rehearsed: a suite, or cases by key. `rows` and `parameters` are of a single case. */
export type Rehearsed = {
  title: string
  suite?: string
  cases?: string[]
  rows?: number
  parameters?: Record<string, string>
  /** The text under edit, where it is not saved. */
  draft?: { kind: 'case' | 'suite'; key: string; source: string }
}

export type RehearsalChoice = {
  environment: string
  build: string
  /** 1-based number of a row of data; `all`: every one of them. */
  row: number | 'all'
  /** Values of parameters, for this rehearsal only. */
  given: Record<string, string>
}

const LIMIT_MS = 120_000

/** @returns the environments that some agent serves now */
export const servedEnvironments = ({ environments }: StartOptions) =>
  environments.filter(({ seats }) => seats > 0)

/** What a rehearsal begins with: a real browser before a simulated one, the newest build, the first row. */
export function usualRehearsal(options: StartOptions): RehearsalChoice {
  const served = servedEnvironments(options)
  const environment = served.find(({ simulated }) => !simulated) ?? served[0]
  return { environment: environment?.key ?? '', build: options.builds[0] ?? '', row: 1, given: {} }
}

export const canRehearse = ({ environment, build }: RehearsalChoice): boolean =>
  environment !== '' && build.trim() !== ''

/** The body of the start. */
export function rehearsalRequest(
  { suite, cases, rows = 0, draft }: Rehearsed,
  { environment, build, row, given }: RehearsalChoice,
) {
  return {
    ...(suite ? { suite } : { cases }),
    environments: [environment],
    build: build.trim(),
    retries: 0,
    limitMs: LIMIT_MS,
    rehearsal: true,
    ...(draft && { drafts: [draft] }),
    ...(rows > 0 && row !== 'all' && { row }),
    ...(Object.keys(given).length > 0 && { with: given }),
  }
}

/** Where one is sent once it is on its way: to the log of a single case, else to the run.
 * @returns nothing while that is not known yet */
export function whereRehearsalIsRead(
  { run, groups }: Pick<RunViewModel, 'run' | 'groups'>,
  isSingle: boolean,
): string | undefined {
  const cells = cellsOf(groups)
  if (!isSingle || cells.length > 1) return `/runs/${run.id}`
  const attempt = cells[0]?.attemptId
  return attempt ? `/attempts/${attempt}` : undefined
}

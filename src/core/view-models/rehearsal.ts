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
  /** A person steers its browser. */
  live?: boolean
  /** What is chosen at first, where it can be. */
  usual?: Partial<RehearsalChoice>
  /** Of a live session: path in logs of the step it is brought to. */
  before?: string
  /** Of a live session: the sheet of a guided case run that it is for. */
  guided?: string
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
/** Of a live session; more time is a click away. */
const LIVE_MS = 20 * 60_000

/** @returns the environments that some agent serves now; with `live`, those a person can steer */
export const servedEnvironments = ({ environments }: StartOptions, live = false) =>
  environments.filter(({ seats, simulated }) => seats > 0 && !(live && simulated))

/** What a rehearsal begins with: a real browser before a simulated one, the newest build, the first row. */
export function usualRehearsal(
  options: StartOptions,
  { live = false, usual = {} }: Pick<Rehearsed, 'live' | 'usual'> = {},
): RehearsalChoice {
  const served = servedEnvironments(options, live)
  const wanted = served.find(({ key }) => key === usual.environment)
  const environment = wanted ?? served.find(({ simulated }) => !simulated) ?? served[0]
  return { build: options.builds[0] ?? '', row: 1, given: {}, ...usual, environment: environment?.key ?? '' }
}

export const canRehearse = ({ environment, build }: RehearsalChoice): boolean =>
  environment !== '' && build.trim() !== ''

/** The body of the start. */
export function rehearsalRequest(
  { suite, cases, rows = 0, draft, live = false }: Rehearsed,
  { environment, build, row, given }: RehearsalChoice,
) {
  return {
    ...(suite ? { suite } : { cases }),
    environments: [environment],
    build: build.trim(),
    retries: 0,
    limitMs: live ? LIVE_MS : LIMIT_MS,
    rehearsal: true,
    ...(live && { live: true }),
    ...(draft && { drafts: [draft] }),
    ...(rows > 0 && row !== 'all' && { row }),
    ...(Object.keys(given).length > 0 && { with: given }),
  }
}

/** Where one is sent once it is on its way: to the log of a single case, to the browser of a live session,
 * else to the run.
 * @returns nothing while that is not known yet */
export function whereRehearsalIsRead(
  { run, groups }: Pick<RunViewModel, 'run' | 'groups'>,
  { cases, live = false, before, guided }: Pick<Rehearsed, 'cases' | 'live' | 'before' | 'guided'>,
): string | undefined {
  const cells = cellsOf(groups)
  if (cases?.length !== 1 || cells.length > 1) return `/runs/${run.id}`
  const attempt = cells[0]?.attemptId
  if (!attempt) return undefined
  if (!live) return `/attempts/${attempt}`
  const asked = new URLSearchParams({ ...(before !== undefined && { before }), ...(guided && { guided }) })
  return `/live/${attempt}${asked.size === 0 ? '' : `?${asked}`}`
}

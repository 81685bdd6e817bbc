/** What the page of a run shows of it: which rows, which cell is next, the facts as words. */
import { describeCounts, type Mark } from '../execution'
import { describeDuration, plural } from '../model'
import type { GridCell, GridGroup, RunViewModel } from './run-types'

/** A cell, with the row it stands in. */
export type PlacedCell = GridCell & { title: string; row: string | null; caseKey: string }

/** What "only" lets through: a failure is either kind of it. */
const ONLY = {
  failed: ['failed', 'errored'],
  recovered: ['recovered'],
  running: ['running', 'claimed', 'paused'],
} satisfies Record<string, Mark[]>

const isOnly = (only: string | null): only is keyof typeof ONLY => only !== null && Object.hasOwn(ONLY, only)

export const isFailure = ({ mark }: Pick<GridCell, 'mark'>): boolean =>
  mark === 'failed' || mark === 'errored'

/** @returns the groups with the rows that have a cell of this kind; all of them for no kind, or an unknown
 * one */
export function onlyRows(groups: GridGroup[], only: string | null): GridGroup[] {
  if (!isOnly(only)) return groups
  const marks: readonly Mark[] = ONLY[only]
  return groups
    .map((group) => ({
      ...group,
      rows: group.rows.filter((row) => row.cells.some((cell) => cell && marks.includes(cell.mark))),
    }))
    .filter(({ rows }) => rows.length > 0)
}

/** @returns all cells, row by row */
export const cellsOf = (groups: readonly GridGroup[]): PlacedCell[] =>
  groups.flatMap(({ rows }) =>
    rows.flatMap(({ title, row, caseKey, cells }) =>
      cells.flatMap((cell) => (cell ? [{ ...cell, title, row, caseKey }] : [])),
    ),
  )

/** @param at where one is; nowhere, or on no failure: the first one forward, the last one back
 * @returns nothing past the last or before the first */
export function nextFailure(cells: readonly GridCell[], at: string | null, by: 1 | -1): GridCell | undefined {
  const failures = cells.filter(isFailure)
  const here = failures.findIndex(({ id }) => id === at)
  if (here < 0) return by > 0 ? failures[0] : failures.at(-1)
  return failures[here + by]
}

/** Of runs that are not as any other. */
const KIND_WORDS: Partial<Record<RunViewModel['run']['kind'], string>> = {
  rehearsal: 'a rehearsal, in no history and gone after a day; ',
  imported: 'taken in from a result file; ',
  guided: 'by hand; ',
}

/** The facts of a run in a line.
 * @param clock words for a moment, by the reader's clock */
export function runFacts({ run, suiteTitle, leftOut }: RunViewModel, clock: (at: string) => string): string {
  const suite = suiteTitle.toLowerCase() === run.title.toLowerCase() ? '' : `suite ${suiteTitle}, `
  const facts = [
    `${KIND_WORDS[run.kind] ?? ''}${suite}build ` +
      `${run.build}${run.stage === null ? '' : ` at ${run.stage}`}, ${whenWords(run, clock)}`,
    run.againOf && `; repeats the failures of run ${run.againOf}`,
    leftOut.length > 0 && `; ${plural(leftOut.length, 'entry', 'entries')} left out`,
    `. ${describeCounts(run.counts)}`,
    run.quarantined > 0 && `, ${run.quarantined} of the failures in quarantine`,
    run.paused && '; paused',
  ]
  return facts.filter(Boolean).join('')
}

function whenWords(
  { kind, startedBy, startedAt, endedAt }: RunViewModel['run'],
  clock: (at: string) => string,
): string {
  if (!startedAt) return `by ${startedBy}, waits for ${kind === 'guided' ? 'its people' : 'a free seat'}`
  const started = `started by ${startedBy} ${clock(startedAt)}`
  if (!endedAt) return started
  const ms = new Date(endedAt).getTime() - new Date(startedAt).getTime()
  return `${started}, ended ${clock(endedAt)}, ${describeDuration(ms)}`
}

/** What can be done with a run by somebody who may start one.
 * @param mayAct whether this person may */
export function runActions({ state, kind, counts }: RunViewModel['run'], mayAct: boolean) {
  const isOpen = state !== 'ended'
  const bad = counts.failed + counts.errored
  return {
    /** How many failed or errored. */
    bad,
    isOpen,
    pause: mayAct && isOpen && state !== 'cancelling' && kind !== 'guided',
    stop: mayAct && isOpen,
    again: mayAct && !isOpen && bad > 0 && kind !== 'imported',
    keep: mayAct && kind === 'rehearsal',
  }
}

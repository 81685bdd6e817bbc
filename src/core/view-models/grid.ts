/** From case runs and attempts to the two pictures of a run: the grid and the lanes. */
import type { Mark } from '../execution'
import type { GridCell, GridGroup, GridRow, Lane, LaneBar } from './run-types'

export type CaseRunFacts = {
  id: string
  position: number
  caseKey: string
  title: string
  groups: string[]
  environment: string
  rowIndex: number | null
  rowCount: number | null
  mark: Mark
  attempts: number
  failureKind: string | null
  failureMessage: string | null
  durationMs: number | null
  estimateMs: number
  lastAttempt: string | null
  screen: string | null
  agent: string | null
  onlyAgent: string
}

/** One row a case (and data row), one column an environment, in the order of the suite.
 * @param caseRuns by position; `environments` gives the columns, a case run of another environment has no
 * cell */
export function gridOf(caseRuns: readonly CaseRunFacts[], environments: readonly string[]): GridGroup[] {
  const groups: GridGroup[] = []
  let row: (GridRow & { only: string }) | undefined
  for (const run of caseRuns) {
    const title = run.groups.join(' · ')
    if (groups.at(-1)?.title !== title) {
      groups.push({ title, rows: [] })
      row = undefined
    }
    // What every agent does is there once for each of them.
    const taken = row?.position === run.position && row.cells[environments.indexOf(run.environment)]
    if (!row || row.position !== run.position || (taken && row.only !== run.onlyAgent)) {
      const { position, caseKey, rowIndex, rowCount } = run
      const of = [
        rowIndex === null ? '' : `${rowIndex} of ${rowCount}`,
        taken ? `on ${run.onlyAgent}` : '',
      ].filter(Boolean)
      row = {
        position,
        caseKey,
        title: run.title,
        row: of.length === 0 ? null : of.join(', '),
        cells: environments.map(() => null),
        only: run.onlyAgent,
      }
      groups.at(-1)!.rows.push(row)
    }
    const column = environments.indexOf(run.environment)
    if (column >= 0) row.cells[column] = cellOf(run)
  }
  return groups
}

const cellOf = ({
  id,
  environment,
  mark,
  attempts,
  durationMs,
  estimateMs,
  lastAttempt,
  failureMessage,
  failureKind,
  agent,
  screen,
}: CaseRunFacts): GridCell => ({
  id,
  environment,
  mark,
  attempts,
  durationMs,
  estimateMs,
  attemptId: lastAttempt,
  failure: failureMessage,
  failureKind,
  agent,
  screen,
})

/** Attempts by seat, in time; seats by name. */
export function lanesOf(
  attempts: readonly (LaneBar & { agent: string; seat: number; simulated: boolean })[],
): Lane[] {
  const lanes = new Map<string, Lane>()
  for (const { agent, seat, simulated, ...bar } of attempts) {
    const key = `${agent} ${seat}`
    const lane = lanes.get(key) ?? { agent, seat, simulated, bars: [] }
    lanes.set(key, lane)
    lane.bars.push(bar)
  }
  return [...lanes.values()].sort((a, b) => a.agent.localeCompare(b.agent) || a.seat - b.seat)
}

/** Which steps are carried out when a person says so. A block is gone into step by step; a branch and a loop
 * are one, as what they do is found out while they go on. */
import type { PlacedStop, Stop } from '@/core/live'
import type { Step } from '@/core/model'
import type { StepRow } from '../bench/step-rows'

const isWithin = (id: string, outer: string): boolean => id.startsWith(`${outer}.`)

/** The steps that are carried out one by one, in order. */
export function unitsOf(rows: readonly StepRow[]): StepRow[] {
  const units: StepRow[] = []
  let whole: string | undefined
  for (const row of rows) {
    if (whole !== undefined && isWithin(row.id, whole)) continue
    whole = undefined
    if (!row.step) continue // "else" of a branch
    if (row.step.verb === 'block' && !row.step.off) continue
    if (row.step.verb === 'if' || row.step.verb === 'repeat' || row.step.off) whole = row.id
    units.push(row)
  }
  return units
}

/** The first of the units that a selected line stands for; the first of all where none is selected. */
function unitAt(units: readonly StepRow[], selected: string | undefined): number {
  if (selected === undefined) return 0
  const own = units.findIndex(({ id }) => id === selected || isWithin(id, selected) || isWithin(selected, id))
  return Math.max(0, own)
}

/** From the selected step on. */
export function unitsFrom(rows: readonly StepRow[], selected: string | undefined): StepRow[] {
  const units = unitsOf(rows)
  return units.slice(unitAt(units, selected))
}

/** All up to the selected step, and that one. */
export const unitsUpTo = (rows: readonly StepRow[], selected: string | undefined): StepRow[] => {
  const units = unitsOf(rows)
  return units.slice(0, unitAt(units, selected) + 1)
}

/** All of a block; none where the selected line is something else. */
export function unitsWithin(rows: readonly StepRow[], selected: string | undefined): StepRow[] {
  const block = rows.find(({ id, step }) => id === selected && step?.verb === 'block' && !step.off)
  return block ? unitsOf(rows).filter(({ id }) => isWithin(id, block.id)) : []
}

/** All that come before a line, for who wants to be just before it. */
export const unitsBefore = (rows: readonly StepRow[], id: string): StepRow[] => {
  const units = unitsOf(rows)
  return units.slice(0, unitAt(units, id))
}

/** The selected step alone; of a block its first. `next`: what is selected then. */
export function oneUnit(
  rows: readonly StepRow[],
  selected: string | undefined,
): { unit: StepRow; next: string } | undefined {
  const units = unitsOf(rows)
  const at = unitAt(units, selected)
  const chosen = rows.find(({ id }) => id === selected)
  // a step within a branch or a loop is tried alone
  const alone = chosen?.step && chosen.step.verb !== 'block' ? chosen : undefined
  const unit = alone ?? units[at]
  if (!unit) return undefined
  return { unit, next: (units[at + 1] ?? unit).id }
}

/** Stops by the step they are before; of a step of a routine by `stopWithin`. */
export type Stops = Readonly<Record<string, Stop>>

/** Those of a step that is carried out as one, and of the steps within it. A stop at a block is one before
 * its first step. */
export function stopsOf(rows: readonly StepRow[], unit: StepRow, stops: Stops): PlacedStop[] {
  const before = rows[rows.indexOf(unit) - 1]
  const outer = before?.step?.verb === 'block' && isWithin(unit.id, before.id) ? stops[before.id] : undefined
  const own = stops[unit.id] ?? outer
  return [
    ...(own ? [{ ...own, at: [] }] : []),
    ...rows.flatMap(({ id, path }) => {
      const stop = isWithin(id, unit.id) ? stops[id] : undefined
      return stop ? [{ ...stop, at: path.slice(unit.path.length) }] : []
    }),
    ...Object.entries(stops).flatMap(([key, stop]) => {
      const [id, within] = key.split(WITHIN)
      const row = within === undefined ? undefined : rows.find((one) => one.id === id)
      if (!row || (row !== unit && !isWithin(row.id, unit.id))) return []
      return [
        { ...stop, at: [...row.path.slice(unit.path.length), ...(JSON.parse(within!) as PlacedStop['at'])] },
      ]
    }),
  ]
}

const WITHIN = '>'
/** The key of a stop within a routine.
 * @param id of the step that uses it @param at path in the form of that */
export const stopWithin = (id: string, at: PlacedStop['at']): string => `${id}${WITHIN}${JSON.stringify(at)}`

export type RoutineLine = { at: PlacedStop['at']; depth: number; step: Step }
const LINES_MOST = 300

/** The steps of a routine as lines, with those within them; routines that it uses are one line. */
export function linesOf(
  steps: readonly Step[],
  at: PlacedStop['at'] = ['routine'],
  depth = 0,
): RoutineLine[] {
  return steps
    .flatMap((step, i): RoutineLine[] => [
      { at: [...at, i], depth, step },
      ...('steps' in step ? linesOf(step.steps, [...at, i, 'steps'], depth + 1) : []),
      ...(step.verb === 'if' ? linesOf(step.otherwise, [...at, i, 'else'], depth + 1) : []),
    ])
    .slice(0, LINES_MOST)
}

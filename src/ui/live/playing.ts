/** Which steps are carried out when a person says so. A block is gone into step by step; a branch and a loop
 * are one, as what they do is found out while they go on. */
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

/** From the selected step on, up to the next one that has a stop before it. */
export function unitsFrom(
  rows: readonly StepRow[],
  selected: string | undefined,
  stops: ReadonlySet<string>,
): StepRow[] {
  const units = unitsOf(rows)
  const from = unitAt(units, selected)
  const next = units.findIndex(({ id }, i) => i > from && hasStop(rows, id, stops))
  return units.slice(from, next < 0 ? undefined : next)
}

/** All up to the selected step, and that one. */
export const unitsUpTo = (rows: readonly StepRow[], selected: string | undefined): StepRow[] => {
  const units = unitsOf(rows)
  return units.slice(0, unitAt(units, selected) + 1)
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

/** A stop at a block is one before its first step. */
const hasStop = (rows: readonly StepRow[], id: string, stops: ReadonlySet<string>): boolean =>
  stops.has(id) ||
  rows.some(
    (row, i) =>
      stops.has(row.id) && row.step?.verb === 'block' && isWithin(id, row.id) && rows[i + 1]?.id === id,
  )

/** The step of a path in logs; of a path within a routine the step that uses it. */
export function stepOfPath(rows: readonly StepRow[], path: string): StepRow | undefined {
  // tries that a recovery rule set aside have a sign and a number behind
  const plain = path.replace(/[!~].*$/, '')
  return rows
    .filter(({ logPath, step }) => step && (logPath === plain || plain.startsWith(`${logPath}.`)))
    .toSorted((a, b) => b.logPath.length - a.logPath.length)[0]
}

/** Rows one after the other, each the best of several tries: every try begins with an open tuple and gives
 * each other factor, in random order, the level that covers most (as in D. Cohen et al., "The AETG System",
 * IEEE Trans. Software Eng. 23(7), 1997). */
import type { Budget } from '../../compute/budget'
import type { Random } from '../../execution/random'
import type { Row, Space } from './space'
import type { RowSolver } from './solver'
import type { Tuples } from './tuples'

/** Tries a row: more of them cost time and save few rows. */
const TRIES_A_ROW = 40

type Tools = { space: Space; solver: RowSolver; tuples: Tuples; random: Random; budget: Budget }

/** Adds rows until every possible tuple is in one. Also when the budget is used up: then with one try a
 * row. */
export function coverGreedily(rows: Row[], tools: Tools): void {
  while (tools.tuples.openCount > 0) {
    let best: Row | undefined
    let most = -1
    const tries = tools.budget.over ? 1 : TRIES_A_ROW
    for (let i = 0; i < tries; i++) {
      const row = buildRow(tools)
      const gain = gainOf(row, tools.tuples)
      if (gain > most) [best, most] = [row, gain]
      if (!tools.budget.spend(tools.tuples.combos.length >> 2) && best) break
    }
    tools.tuples.addRow(best!)
    rows.push(best!)
  }
}

function gainOf(row: Row, tuples: Tuples): number {
  let gain = 0
  for (const combo of tuples.combos) if (tuples.isOpen(tuples.indexOf(combo, row))) gain++
  return gain
}

function buildRow(tools: Tools): Row {
  const { space, tuples, random } = tools
  const row = new Int16Array(space.sizes.length).fill(-1)
  const tuple = tuples.anyOpen(random)
  const combo = tuples.comboOf(tuple)
  tuples.levelsOf(combo, tuple).forEach((level, i) => (row[combo.factors[i]!] = level))
  return completeRow(row, tools)
}

/** Gives each open factor the level that covers most with those decided before; a level that no row could go
 * on from is not taken.
 * @param within levels that are allowed besides the rules, by factor */
export function completeRow(
  row: Row,
  { space, solver, tuples, random, budget }: Tools,
  within?: readonly (Uint8Array | undefined)[],
): Row {
  const order = shuffled(
    space.sizes.flatMap((_, factor) => (row[factor]! < 0 ? [factor] : [])),
    random,
  )
  for (const factor of order) {
    const gains = gainsOf(row, factor, space, tuples)
    budget.spend((tuples.combosOf[factor]!.length * space.sizes[factor]!) >> 3)
    const levels = shuffled(
      gains.map((_, level) => level),
      random,
    ).sort((a, b) => gains[b]! - gains[a]!)
    for (const level of levels) {
      if (within?.[factor]?.[level] === 0) continue
      row[factor] = level
      if (!solver.isRuled(factor) || solver.extend(row, undefined, within)) break
      row[factor] = -1
    }
  }
  return row
}

/** For each level of an open factor: how many open tuples it would cover with the factors that are
 * decided. */
function gainsOf(row: Row, factor: number, space: Space, tuples: Tuples): number[] {
  const gains = new Array<number>(space.sizes[factor]!).fill(0)
  for (const { factors, steps, offset } of tuples.combosOf[factor]!) {
    let base = offset
    let step = 0
    let decided = true
    for (let i = 0; i < factors.length && decided; i++) {
      if (factors[i] === factor) step = steps[i]!
      else if (row[factors[i]!]! < 0) decided = false
      else base += row[factors[i]!]! * steps[i]!
    }
    if (decided)
      for (let level = 0; level < gains.length; level++)
        if (tuples.isOpen(base + level * step)) gains[level]!++
  }
  return gains
}

export function shuffled<T>(list: T[], random: Random): T[] {
  for (let i = list.length - 1; i > 0; i--) {
    const j = Math.floor(random() * (i + 1))
    ;[list[i], list[j]] = [list[j]!, list[i]!]
  }
  return list
}

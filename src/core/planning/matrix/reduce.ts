/** Takes rows away and mends what that leaves open, by tabu search (K. Nurmela, "Upper bounds for covering
 * arrays by tabu search", Discrete Applied Mathematics 138, 2004). */
import type { Budget } from '../../compute/budget'
import type { Random } from '../../execution/random'
import type { Row } from './space'
import type { RowSolver } from './solver'
import type { Tuples } from './tuples'

/** A cell that was changed stays as it is for so many moves, and up to so many more. */
const TABU_MOVES = 4
const TABU_MORE = 8

export type PinnedRow = {
  row: Row
  /** Levels it may take, by factor: it stands for a requirement. */ within?: readonly (
    Uint8Array | undefined
  )[]
}
type Tools = {
  solver: RowSolver
  tuples: Tuples
  random: Random
  budget: Budget
  /** No array can have fewer rows. */ least: number
}

/** @returns the fewest rows found that cover all; `tuples` is not kept in step with them */
export function reduce(rows: PinnedRow[], tools: Tools): PinnedRow[] {
  let best = rows.map(copy)
  const current = rows.map(copy)
  while (best.length > tools.least && !tools.budget.over) {
    const out = leastUseful(current, tools.tuples)
    if (out < 0) break
    tools.tuples.dropRow(current[out]!.row)
    current.splice(out, 1)
    if (!repair(current, tools)) break
    best = current.map(copy)
  }
  return best
}

const copy = ({ row, within }: PinnedRow): PinnedRow => ({
  row: Int16Array.from(row),
  ...(within && { within }),
})

function leastUseful(rows: readonly PinnedRow[], tuples: Tuples): number {
  let [out, fewest] = [-1, Infinity]
  rows.forEach(({ row, within }, i) => {
    const only = within ? Infinity : tuples.onlyIn(row)
    if (only < fewest) [out, fewest] = [i, only]
  })
  return out
}

type Move = { row: number; factor: number; level: number; change: number }

/** Changes cells until nothing is open. @returns false when the budget is used up before */
function repair(rows: readonly PinnedRow[], { solver, tuples, random, budget }: Tools): boolean {
  const factors = rows[0]?.row.length ?? 0
  const until = new Int32Array(rows.length * factors)
  let fewest = tuples.openCount
  for (let move = 1; tuples.openCount > 0; move++) {
    if (rows.length === 0 || !budget.spend(rows.length >> 1)) return false
    const tuple = tuples.anyOpen(random)
    const combo = tuples.comboOf(tuple)
    const levels = tuples.levelsOf(combo, tuple)
    let best: Move | undefined
    let ties = 0
    const weigh = (row: number, factor: number, level: number) => {
      const { row: cells, within } = rows[row]!
      budget.spend(tuples.combosOf[factor]!.length + solver.rulesOn(factor))
      if (within?.[factor]?.[level] === 0 || (solver.isRuled(factor) && solver.breaks(cells, factor, level)))
        return
      const change = tuples.change(cells, factor, level)
      if (until[row * factors + factor]! > move && tuples.openCount + change >= fewest) return
      if (!best || change < best.change) [best, ties] = [{ row, factor, level, change }, 1]
      else if (change === best.change && random() * ++ties < 1) best = { row, factor, level, change }
    }
    for (let row = 0; row < rows.length; row++) {
      const differing = differsOnce(rows[row]!.row, combo.factors, levels)
      if (differing >= 0) weigh(row, combo.factors[differing]!, levels[differing]!)
    }
    // No row is one cell away, or none may change: bring some row nearer.
    if (!best) {
      const row = Math.floor(random() * rows.length)
      for (let i = 0; i < levels.length; i++)
        if (rows[row]!.row[combo.factors[i]!] !== levels[i]) weigh(row, combo.factors[i]!, levels[i]!)
    }
    if (!best) {
      const [row, factor] = [Math.floor(random() * rows.length), Math.floor(random() * factors)]
      weigh(row, factor, Math.floor(random() * tuples.sizeOf(factor)))
    }
    if (!best) continue
    const { row, factor, level } = best as Move
    tuples.set(rows[row]!.row, factor, level)
    until[row * factors + factor] = move + TABU_MOVES + Math.floor(random() * TABU_MORE)
    fewest = Math.min(fewest, tuples.openCount)
  }
  return true
}

/** Where a row differs from a tuple, if it does in one place only; else -1. */
function differsOnce(row: Row, factors: readonly number[], levels: readonly number[]): number {
  let found = -1
  for (let i = 0; i < factors.length; i++) {
    if (row[factors[i]!] === levels[i]) continue
    if (found >= 0) return -1
    found = i
  }
  return found
}

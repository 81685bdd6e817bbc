import { Budget, type Clock } from '../../compute/budget'
import { Faults } from '../../compute/fault'
import { randomFrom, type Random } from '../../execution/random'
import { completeRow, coverGreedily } from './greedy'
import { binaryRows, knownRows } from './known'
import { productRows } from './product'
import { reduce, type PinnedRow } from './reduce'
import { RowSolver } from './solver'
import { meets, spaceOf, type Clause, type Level, type MatrixInput, type Row, type Space } from './space'
import { Tuples } from './tuples'

export type MatrixRow = Record<string, Level>
/** `pairs` counts pairs, or triples for strength 3; `uncovered` are those that are allowed and in no row.
 * `cut`: the clock ended the search before its steps were used up. */
export type MatrixOutput = {
  rows: MatrixRow[]
  uncovered: MatrixRow[]
  pairs: { total: number; covered: number; impossible: number }
  cut?: true
}

/** Measured so that on a slow machine the steps are used up before the clock runs out. */
const STEPS_PER_MS = 12_000
const BUDGET_MS = 2000

/** Environments out of axes and rules: all combinations, or few in which every pair (or triple) of levels
 * meets.
 * Deterministic for a seed. Where no row keeps all rules, `rows` is empty and every tuple counts as
 * impossible.
 * @throws {BadInput} for names that are not there, required rows that break a rule, and products too large to
 * list */
export function matrix(input: MatrixInput, clock?: Clock): MatrixOutput {
  const space = spaceOf(input)
  const solver = new RowSolver(space)
  requireSound(space, solver)
  const random = randomFrom(input.seed ?? 1)
  const strength = Math.min(input.strength === 3 ? 3 : 2, space.names.length)
  const tools: Tools = {
    space,
    solver,
    random,
    budget: new Budget(input.budgetMs ?? BUDGET_MS, STEPS_PER_MS, clock),
    tuples: new Tuples(space, strength, solver, random),
  }
  if (input.strength === 'all') return answer(productRows(space, solver), tools)
  if (tools.tuples.impossible === tools.tuples.total) return answer([], tools)
  const least = leastRows(space, strength, tools.tuples)
  const rows = [startFromKnown(space, strength), startGreedily].map((start) => {
    if (!start) return undefined
    const tuples = tools.tuples.again()
    return { tuples, rows: start({ ...tools, tuples }) }
  })
  const [known, greedy] = rows
  const start = known && known.rows.length <= greedy!.rows.length ? known : greedy!
  const reduced = reduce(start.rows, { ...tools, tuples: start.tuples, least })
  return answer(
    reduced.map(({ row }) => row),
    tools,
  )
}

type Tools = { space: Space; solver: RowSolver; random: Random; budget: Budget; tuples: Tuples }

function requireSound(space: Space, solver: RowSolver): void {
  const faults = new Faults()
  space.require.forEach(
    (clause, i) =>
      !solver.extend(open(space), undefined, levelsOf(space, clause)) &&
      faults.add(`require/${i}`, 'no row that keeps the rules is like this'),
  )
  faults.throwIfAny()
}

const open = (space: Space): Row => new Int16Array(space.sizes.length).fill(-1)
function levelsOf(space: Space, clause: Clause): (Uint8Array | undefined)[] {
  const within = new Array<Uint8Array | undefined>(space.sizes.length)
  for (const { factor, levels } of clause) within[factor] = levels
  return within
}

/** A row for each requirement that no earlier one meets; completed like any other, and kept to what it stands
 * for. */
function requiredRows(tools: Tools): PinnedRow[] {
  const rows: PinnedRow[] = []
  for (const clause of tools.space.require) {
    if (rows.some(({ row }) => meets(row, clause))) continue
    const within = levelsOf(tools.space, clause)
    const row = completeRow(open(tools.space), tools, within)
    tools.tuples.addRow(row)
    rows.push({ row, within })
  }
  return rows
}

function startGreedily(tools: Tools): PinnedRow[] {
  const rows = requiredRows(tools)
  const added: Row[] = []
  coverGreedily(added, tools)
  return [...rows, ...added.map((row) => ({ row }))]
}

/** For axes without rules: a construction for the largest of them, its open cells and what it does not cover
 * filled greedily. */
function startFromKnown(space: Space, strength: number): ((tools: Tools) => PinnedRow[]) | undefined {
  if (strength < 2 || space.forbid.length > 0) return undefined
  const order = space.sizes.map((_, factor) => factor).sort((a, b) => space.sizes[b]! - space.sizes[a]!)
  const known = knownRows(
    order.map((factor) => space.sizes[factor]!),
    strength,
  )
  return (
    known &&
    ((tools) => {
      const rows = requiredRows(tools)
      for (const levels of known) {
        const row = open(space)
        levels.forEach((level, i) => (row[order[i]!] = level))
        completeRow(row, tools)
        tools.tuples.addRow(row)
        rows.push({ row })
      }
      const added: Row[] = []
      coverGreedily(added, tools)
      return [...rows, ...added.map((row) => ({ row }))]
    })
  )
}

/** No array has fewer: a row has one tuple of each choice of factors; for two-level factors without rules the
 * exact number is known. */
const leastRows = ({ sizes, forbid }: Space, strength: number, tuples: Tuples): number =>
  strength === 2 && forbid.length === 0 && sizes.every((size) => size === 2)
    ? binaryRows(sizes.length)
    : tuples.mostOfACombo()

function answer(rows: readonly Row[], { space, tuples, budget }: Tools): MatrixOutput {
  const named = (cells: Iterable<number>, factors: readonly number[]) =>
    Object.fromEntries(
      [...cells].map((level, i) => [space.names[factors[i]!]!, space.levels[factors[i]!]![level]!]),
    )
  const all = space.names.map((_, factor) => factor)
  const covered = tuples.again()
  const sorted = [...rows].sort(compare)
  for (const row of sorted) covered.addRow(row)
  return {
    rows: sorted.map((row) => named(row, all)),
    uncovered: covered.openTuples().map((tuple) => {
      const combo = covered.comboOf(tuple)
      return named(covered.levelsOf(combo, tuple), combo.factors)
    }),
    pairs: {
      total: tuples.total,
      covered: tuples.total - tuples.impossible - covered.openCount,
      impossible: tuples.impossible,
    },
    ...(budget.cut && { cut: true as const }),
  }
}

function compare(a: Row, b: Row): number {
  for (let i = 0; i < a.length; i++) if (a[i] !== b[i]) return a[i]! - b[i]!
  return 0
}

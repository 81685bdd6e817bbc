/** Where failures happen: the values of factors (browser, agent, hour …) that tell rows that failed from the
 * others. */
import { lnFactorials, lnFisher } from './fisher'

export type FactorValue = string | number | boolean
export type Factors = Record<string, FactorValue>
export type WhereInput = { rows: { failed: boolean; factors: Factors }[] }
/** Rows with these factors: `failed` `of` them failed; of the others `elsewhereFailed` `elsewhereOf`.
 * `ratio`: how many times as often as elsewhere; `null`: nothing failed there. `pRaw`: the chance of so many
 * or more here if it made no difference (Fisher 1922, one-sided). `p`: the same times `tried`, for all that
 * were looked at. `covers`: the share of all failures that are here. */
export type Place = {
  factors: Factors
  failed: number
  of: number
  elsewhereFailed: number
  elsewhereOf: number
  ratio: number | null
  pRaw: number
  p: number
  tried: number
  covers: number
}

/** An explanation is one that chance gives so rarely. */
const LN_SURE = Math.log(0.05)
const FACTORS_MOST = 3
const PLACES_MOST = 10

/** Some rows by the values they share: which factors, the number of the value of each, and counts. */
type Cell = { names: number[]; values: number[]; of: number; failed: number }

/** @returns the best explanation first; those that another one already explains are left out; none: nothing
 * tells them apart */
export function where({ rows }: WhereInput): Place[] {
  const failures = rows.filter(({ failed }) => failed).length
  if (failures === 0 || failures === rows.length) return []
  const table = new Table(rows)
  const cells = table.cells(Math.min(FACTORS_MOST, table.names.length))
  const counts = { all: rows.length, failed: failures }
  const lnFactorial = lnFactorials(rows.length)
  const lnChance = (of: number, failed: number) => lnFisher(lnFactorial, counts, { of, failed })
  const { tested, tried } = testable(cells, (of) => lnChance(of, Math.min(of, failures)))
  const ofSize = Array.from({ length: FACTORS_MOST + 1 }, (_, size) =>
    tested.filter(({ names }) => names.length === size),
  )
  const ranked = tested
    .filter(({ of, failed }) => failed * rows.length > of * failures) // more than elsewhere
    .map((cell) => ({ cell, lnP: lnChance(cell.of, cell.failed) }))
    .filter(({ lnP }) => lnP + Math.log(tried) <= LN_SURE)
    // Naming more factors has more to choose from, and has to explain more for that.
    .map((one) => ({ ...one, rank: one.lnP + Math.log(ofSize[one.cell.names.length]!.length) }))
    .sort(
      (a, b) => a.rank - b.rank || a.cell.names.length - b.cell.names.length || b.cell.failed - a.cell.failed,
    )
  const uncovered = new Uncovered(table, tried)
  const kept: typeof ranked = []
  for (const one of ranked) {
    if (kept.length === PLACES_MOST) break
    if (
      kept.length === 0 ||
      uncovered.standsOut(one.cell) ||
      kept.some(({ cell }) => table.areSame(one.cell, cell))
    ) {
      kept.push(one)
      uncovered.cover(one.cell)
    }
  }
  return kept.map(({ cell: { names, values, of, failed }, lnP }) => {
    const [elsewhereFailed, elsewhereOf] = [failures - failed, rows.length - of]
    return {
      factors: table.factorsOf(names, values),
      failed,
      of,
      elsewhereFailed,
      elsewhereOf,
      ratio: elsewhereFailed === 0 ? null : failed / of / (elsewhereFailed / elsewhereOf),
      pRaw: Math.exp(lnP),
      p: Math.min(1, Math.exp(lnP) * tried),
      tried,
      covers: failed / failures,
    }
  })
}

/** Those that could be an explanation at all: with few rows none is rare enough, whatever they did, and they
 * need not be counted among what was tried (Tarone 1990). */
function testable(cells: readonly Cell[], lnLeast: (of: number) => number) {
  const known = new Map<number, number>()
  const least = (of: number): number => {
    const chance = known.get(of) ?? lnLeast(of)
    known.set(of, chance)
    return chance
  }
  const chances = Float64Array.from(cells, ({ of }) => least(of)).sort()
  let tried = 1
  while (tried < chances.length && chances[tried]! + Math.log(tried) <= LN_SURE) tried++
  return { tested: cells.filter(({ of }) => least(of) + Math.log(tried) <= LN_SURE), tried }
}

/** The rows, with factors and values as numbers. */
class Table {
  readonly names: string[]
  private readonly values: FactorValue[][] = []
  /** Of each factor, the number of its value in each row; -1: the row has none. */
  private readonly columns: Int32Array[] = []
  readonly failed: Uint8Array

  constructor(rows: WhereInput['rows']) {
    this.failed = Uint8Array.from(rows, ({ failed }) => Number(failed))
    const all = [...new Set(rows.flatMap(({ factors }) => Object.keys(factors)))].sort()
    this.names = all.filter((name) => {
      const numbers = new Map<FactorValue, number>()
      const column = Int32Array.from(rows, ({ factors }) => {
        const value = Object.hasOwn(factors, name) ? factors[name]! : undefined
        if (value === undefined) return -1
        const number = numbers.get(value) ?? numbers.size
        numbers.set(value, number)
        return number
      })
      // What is the same in all rows tells none from the others.
      if (numbers.size < 2 && !column.includes(-1)) return false
      this.columns.push(column)
      this.values.push([...numbers.keys()])
      return true
    })
  }

  factorsOf = (names: readonly number[], values: readonly number[]): Factors =>
    Object.fromEntries(names.map((name, i) => [this.names[name]!, this.values[name]![values[i]!]!]))

  /** Rows by the values of up to so many factors; a further factor that leaves no row out says nothing
   * more. */
  cells(most: number): Cell[] {
    const bySubset = new Map<string, Map<number, Cell>>()
    for (const names of subsets(this.names.length, most)) {
      const counted = this.count(names)
      if (names.length > 1)
        for (const [key, cell] of counted) if (!this.isMore(cell, bySubset)) counted.delete(key)
      bySubset.set(String(names), counted)
    }
    return [...bySubset.values()].flatMap((cells) =>
      [...cells.values()].filter(({ of }) => of < this.failed.length),
    )
  }

  /** Whether each of its factors leaves rows out. */
  private isMore(cell: Cell, bySubset: ReadonlyMap<string, ReadonlyMap<number, Cell>>): boolean {
    return cell.names.every((_, leave) => {
      const names = cell.names.filter((__, i) => i !== leave)
      const values = cell.values.filter((__, i) => i !== leave)
      const simpler = bySubset.get(String(names))?.get(this.keyOf(names, values))
      return simpler !== undefined && simpler.of > cell.of
    })
  }

  /** @param without rows that are left out */
  count(names: readonly number[], without?: Uint8Array): Map<number, Cell> {
    const cells = new Map<number, Cell>()
    const columns = names.map((name) => this.columns[name]!)
    const values = names.map(() => 0)
    for (let row = 0; row < this.failed.length; row++) {
      if (without?.[row]) continue
      let isWhole = true
      for (let i = 0; i < columns.length; i++) {
        values[i] = columns[i]![row]!
        if (values[i]! < 0) isWhole = false
      }
      if (!isWhole) continue
      const key = this.keyOf(names, values)
      let cell = cells.get(key)
      if (!cell) cells.set(key, (cell = { names: [...names], values: [...values], of: 0, failed: 0 }))
      cell.of++
      cell.failed += this.failed[row]!
    }
    return cells
  }

  /** One number for the values of these factors. */
  keyOf(names: readonly number[], values: readonly number[]): number {
    let key = 0
    for (let i = 0; i < names.length; i++) key = key * this.values[names[i]!]!.length + values[i]!
    return key
  }

  /** Whether they have the very same rows: one cannot be told from the other. */
  areSame(a: Cell, b: Cell): boolean {
    if (a.of !== b.of || a.names.length !== b.names.length) return false
    return this.failed.every((_, row) => this.has(row, a) === this.has(row, b))
  }

  has = (row: number, { names, values }: Cell): boolean =>
    names.every((name, i) => this.columns[name]![row] === values[i])
}

/** The rows that no explanation covers yet. */
class Uncovered {
  private readonly isCovered: Uint8Array
  private lnFactorial: Float64Array = new Float64Array()
  private counts = { all: 0, failed: 0 }
  /** By the factors that are asked for, until more is covered. */
  private readonly counted = new Map<string, Map<number, Cell>>()

  constructor(
    private readonly table: Table,
    private readonly tried: number,
  ) {
    this.isCovered = new Uint8Array(table.failed.length)
  }

  cover(cell: Cell): void {
    const { table, isCovered } = this
    this.counts = { all: 0, failed: 0 }
    for (let row = 0; row < isCovered.length; row++) {
      if (table.has(row, cell)) isCovered[row] = 1
      if (isCovered[row]) continue
      this.counts.all++
      this.counts.failed += table.failed[row]!
    }
    this.lnFactorial = lnFactorials(this.counts.all)
    this.counted.clear()
  }

  /** Whether it explains failures that nothing explains yet: it stands out among these rows, too. */
  standsOut({ names, values }: Cell): boolean {
    const known = this.counted.get(String(names)) ?? this.table.count(names, this.isCovered)
    this.counted.set(String(names), known)
    const here = known.get(this.table.keyOf(names, values))
    if (!here || here.of === this.counts.all) return false
    return lnFisher(this.lnFactorial, this.counts, here) + Math.log(this.tried) <= LN_SURE
  }
}

/** Of numbers from 0, in growing size. */
function subsets(count: number, most: number): number[][] {
  const found: number[][] = []
  let last: number[][] = [[]]
  for (let size = 1; size <= most; size++) {
    last = last.flatMap((one) =>
      Array.from({ length: count }, (_, i) => i)
        .filter((i) => i > (one.at(-1) ?? -1))
        .map((i) => [...one, i]),
    )
    found.push(...last)
  }
  return found
}

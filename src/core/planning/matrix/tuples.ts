/** Tuples of levels, two or three factors at a time: which there are, which can be, and how often each is
 * covered. */
import type { Random } from '../../execution/random'
import type { Row, Space } from './space'
import type { RowSolver } from './solver'

/** One choice of factors; its tuples are numbered from `offset`. */
export type Combo = { factors: number[]; steps: number[]; offset: number; size: number }

export class Tuples {
  readonly combos: Combo[] = []
  readonly total: number
  /** Combos a factor is in. */
  readonly combosOf: Combo[][]
  /** 1: some row that breaks no rule has it. */
  readonly possible: Uint8Array
  readonly impossible: number
  private readonly counts: Int32Array
  /** Possible tuples that no row has, and where each stands in that list. */
  private readonly open: Int32Array
  private readonly place: Int32Array
  openCount = 0

  constructor(
    private readonly space: Space,
    private readonly strength: number,
    private readonly solver: RowSolver,
    random: Random,
    possible?: Uint8Array,
  ) {
    let offset = 0
    for (const factors of choices(space.sizes.length, strength)) {
      let size = 1
      const steps = factors.map((factor) => {
        const step = size
        size *= space.sizes[factor]!
        return step
      })
      this.combos.push({ factors, steps, offset, size })
      offset += size
    }
    this.total = offset
    this.combosOf = space.sizes.map((_, factor) =>
      this.combos.filter(({ factors }) => factors.includes(factor)),
    )
    this.possible = possible ?? this.findPossible(solver, random)
    this.counts = new Int32Array(offset)
    this.open = new Int32Array(offset)
    this.place = new Int32Array(offset).fill(-1)
    for (let tuple = 0; tuple < offset; tuple++) if (this.possible[tuple]) this.addOpen(tuple)
    this.impossible = offset - this.openCount
  }

  /** The same tuples, none of them covered. */
  again = (): Tuples => new Tuples(this.space, this.strength, this.solver, () => 0, this.possible)
  sizeOf = (factor: number): number => this.space.sizes[factor]!

  indexOf(combo: Combo, row: Row): number {
    let index = combo.offset
    for (let i = 0; i < combo.factors.length; i++) index += row[combo.factors[i]!]! * combo.steps[i]!
    return index
  }

  comboOf(tuple: number): Combo {
    let [low, high] = [0, this.combos.length - 1]
    while (low < high) {
      const middle = (low + high + 1) >> 1
      if (this.combos[middle]!.offset <= tuple) low = middle
      else high = middle - 1
    }
    return this.combos[low]!
  }

  levelsOf(combo: Combo, tuple: number): number[] {
    return combo.factors.map(
      (factor, i) => Math.floor((tuple - combo.offset) / combo.steps[i]!) % this.space.sizes[factor]!,
    )
  }

  /** Possible tuples of the choice of factors that has the most. */
  mostOfACombo = (): number =>
    Math.max(
      ...this.combos.map(({ offset, size }) =>
        this.possible.subarray(offset, offset + size).reduce((sum, one) => sum + one, 0),
      ),
    )

  anyOpen = (random: Random): number => this.open[Math.floor(random() * this.openCount)]!
  isOpen = (tuple: number): boolean => this.place[tuple]! >= 0
  openTuples = (): number[] => [...this.open.subarray(0, this.openCount)].sort((a, b) => a - b)

  addRow(row: Row): void {
    for (const combo of this.combos) this.cover(this.indexOf(combo, row))
  }
  dropRow(row: Row): void {
    for (const combo of this.combos) this.uncover(this.indexOf(combo, row))
  }

  /** How many tuples only this row has: what its loss would leave open. */
  onlyIn(row: Row): number {
    let only = 0
    for (const combo of this.combos) {
      const tuple = this.indexOf(combo, row)
      if (this.counts[tuple] === 1 && this.possible[tuple]) only++
    }
    return only
  }

  /** Change of the number of uncovered tuples if one factor of a row took another level. The row is counted
   * among the rows now. */
  change(row: Row, factor: number, level: number): number {
    const by = level - row[factor]!
    let change = 0
    for (const combo of this.combosOf[factor]!) {
      const before = this.indexOf(combo, row)
      const after = before + by * combo.steps[combo.factors.indexOf(factor)]!
      if (this.counts[before] === 1 && this.possible[before]) change++
      if (this.counts[after] === 0 && this.possible[after]) change--
    }
    return change
  }

  set(row: Row, factor: number, level: number): void {
    for (const combo of this.combosOf[factor]!) this.uncover(this.indexOf(combo, row))
    row[factor] = level
    for (const combo of this.combosOf[factor]!) this.cover(this.indexOf(combo, row))
  }

  private cover(tuple: number): void {
    if (this.counts[tuple]!++ > 0 || this.place[tuple]! < 0) return
    const [at, last] = [this.place[tuple]!, this.open[--this.openCount]!]
    this.open[at] = last
    this.place[last] = at
    this.place[tuple] = -1
  }
  private uncover(tuple: number): void {
    if (--this.counts[tuple]! === 0 && this.possible[tuple]) this.addOpen(tuple)
  }
  private addOpen(tuple: number): void {
    this.place[tuple] = this.openCount
    this.open[this.openCount++] = tuple
  }

  /** Each row that is found shows all its tuples to be possible, so most need no search of their own. */
  private findPossible(solver: RowSolver, random: Random): Uint8Array {
    const possible = new Uint8Array(this.total)
    if (solver.ruled.length === 0) return possible.fill(1)
    if (!solver.extend(new Int16Array(this.space.sizes.length).fill(-1))) return possible
    for (const combo of this.combos) {
      const ruled = combo.factors.some(solver.isRuled)
      for (let tuple = combo.offset; tuple < combo.offset + combo.size; tuple++) {
        if (possible[tuple]) continue
        if (!ruled) {
          possible[tuple] = 1
          continue
        }
        const partial = new Int16Array(this.space.sizes.length).fill(-1)
        this.levelsOf(combo, tuple).forEach((level, i) => (partial[combo.factors[i]!] = level))
        const row = solver.extend(partial, random)
        if (!row) continue
        row.forEach(
          (level, factor) => level < 0 && (row[factor] = Math.floor(random() * this.space.sizes[factor]!)),
        )
        for (const other of this.combos) possible[this.indexOf(other, row)] = 1
      }
    }
    return possible
  }
}

function choices(n: number, size: number, from = 0): number[][] {
  if (size === 0) return [[]]
  const found: number[][] = []
  for (let first = from; first <= n - size; first++)
    for (const rest of choices(n, size - 1, first + 1)) found.push([first, ...rest])
  return found
}

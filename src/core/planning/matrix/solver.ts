/** Finds rows that break no rule: depth-first, with forward checking and the factor of the fewest levels
 * first (Haralick & Elliott 1980). */
import type { Random } from '../../execution/random'
import type { Row, Space } from './space'

type Removal = { factor: number; level: number }

export class RowSolver {
  /** Rules by factor, as their places in `space.forbid`. */
  private readonly rulesOf: number[][]
  /** Factors some rule speaks of; the others may take any level at any time. */
  readonly ruled: number[]
  private readonly domains: Uint8Array[]
  private readonly left: number[]
  private removals: Removal[] = []

  constructor(private readonly space: Space) {
    this.rulesOf = space.sizes.map((_, factor) =>
      space.forbid.flatMap((clause, i) => (clause.some((part) => part.factor === factor) ? [i] : [])),
    )
    this.ruled = space.sizes.flatMap((_, factor) => (this.rulesOf[factor]!.length > 0 ? [factor] : []))
    this.domains = space.sizes.map((size) => new Uint8Array(size).fill(1))
    this.left = [...space.sizes]
  }

  /** Would this level of this factor, in an otherwise complete row, break a rule? */
  breaks(row: Row, factor: number, level: number): boolean {
    for (const i of this.rulesOf[factor]!) {
      let all = true
      for (const part of this.space.forbid[i]!) {
        if (part.levels[part.factor === factor ? level : row[part.factor]!] !== 1) {
          all = false
          break
        }
      }
      if (all) return true
    }
    return false
  }

  /** How many rules a look at this factor may cost. */
  rulesOn = (factor: number): number => this.rulesOf[factor]!.length
  isRuled = (factor: number): boolean => this.rulesOf[factor]!.length > 0

  /** Completes the ruled factors of a row.
   * @param within levels that are allowed besides the rules, by factor
   * @returns the row, with its unruled factors as they were, or `undefined` when no row has these levels */
  extend(partial: Row, random?: Random, within?: readonly (Uint8Array | undefined)[]): Row | undefined {
    const row = Int16Array.from(partial)
    const mark = this.removals.length
    try {
      for (const factor of this.ruled) {
        const given = row[factor]!
        for (let level = 0; level < this.space.sizes[factor]!; level++) {
          if (
            ((given >= 0 && level !== given) || within?.[factor]?.[level] === 0) &&
            !this.remove(factor, level)
          )
            return undefined
        }
      }
      for (let i = 0; i < this.space.forbid.length; i++) if (!this.propagate(i, row)) return undefined
      for (const factor of this.ruled) if (row[factor]! >= 0 && !this.assigned(factor, row)) return undefined
      return this.search(row, random) ? row : undefined
    } finally {
      this.restore(mark)
    }
  }

  private search(row: Row, random: Random | undefined): boolean {
    let next = -1
    for (const factor of this.ruled)
      if (row[factor]! < 0 && (next < 0 || this.left[factor]! < this.left[next]!)) next = factor
    if (next < 0) return true
    const size = this.space.sizes[next]!
    const first = random ? Math.floor(random() * size) : 0
    for (let i = 0; i < size; i++) {
      const level = (first + i) % size
      if (!this.domains[next]![level]) continue
      const mark = this.removals.length
      row[next] = level
      if (this.assigned(next, row) && this.search(row, random)) return true
      row[next] = -1
      this.restore(mark)
    }
    return false
  }

  private assigned(factor: number, row: Row): boolean {
    return this.rulesOf[factor]!.every((i) => this.propagate(i, row))
  }

  /** A rule of which all but one factor are decided forbids its levels of that one. @returns false when it is
   * broken, or leaves a factor without a level */
  private propagate(rule: number, row: Row): boolean {
    let open: Space['forbid'][number][number] | undefined
    for (const part of this.space.forbid[rule]!) {
      const level = row[part.factor]!
      if (level < 0) {
        if (open) return true
        open = part
      } else if (part.levels[level] !== 1) return true
    }
    if (!open) return false
    for (let level = 0; level < open.levels.length; level++)
      if (open.levels[level] && this.domains[open.factor]![level] && !this.remove(open.factor, level))
        return false
    return true
  }

  private remove(factor: number, level: number): boolean {
    if (this.domains[factor]![level]) {
      this.domains[factor]![level] = 0
      this.left[factor]!--
      this.removals.push({ factor, level })
    }
    return this.left[factor]! > 0
  }

  private restore(mark: number): void {
    while (this.removals.length > mark) {
      const { factor, level } = this.removals.pop()!
      this.domains[factor]![level] = 1
      this.left[factor]!++
    }
  }
}

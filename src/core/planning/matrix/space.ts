/** The axes of a matrix as numbers: factors and their levels, rules over them, and what a row may be. */
import { Faults } from '../../compute/fault'

export type Level = string | number | boolean
/** Axes with the level, or one of the levels, that the rule speaks of. */
export type MatrixRule = Record<string, Level | Level[]>
export type MatrixInput = {
  axes: Record<string, Level[]>
  strength: 'all' | 2 | 3
  forbid?: MatrixRule[]
  require?: MatrixRule[]
  seed?: number
  budgetMs?: number
}

/** A level index for each factor; -1 where it is open. */
export type Row = Int16Array
/** The factors a rule speaks of, each with the levels (1 in `levels`) that it means. */
export type Clause = { factor: number; levels: Uint8Array }[]

export type Space = {
  names: string[]
  levels: Level[][]
  sizes: number[]
  forbid: Clause[]
  require: Clause[]
}

/** @throws {BadInput} for axes and levels that are not there, or there twice */
export function spaceOf({ axes, forbid = [], require = [] }: MatrixInput): Space {
  const faults = new Faults()
  const names = Object.keys(axes)
  const levels = names.map((name) => axes[name]!)
  names.forEach((name, f) =>
    levels[f]!.forEach(
      (level, l) =>
        levels[f]!.indexOf(level) < l && faults.add(`axes/${name}/${l}`, `“${level}” is there twice`),
    ),
  )
  const clauseOf = (rule: MatrixRule, path: string): Clause =>
    Object.entries(rule).flatMap(([name, given]) => {
      const factor = names.indexOf(name)
      if (factor < 0) return (faults.add(`${path}/${name}`, `there is no axis “${name}”`), [])
      const chosen = new Uint8Array(levels[factor]!.length)
      for (const level of [given].flat()) {
        const l = levels[factor]!.indexOf(level)
        if (l < 0) faults.add(`${path}/${name}`, `the axis “${name}” has no “${level}”`)
        else chosen[l] = 1
      }
      return [{ factor, levels: chosen }]
    })
  const space = {
    names,
    levels,
    sizes: levels.map((list) => list.length),
    forbid: forbid.map((rule, i) => clauseOf(rule, `forbid/${i}`)),
    require: require.map((rule, i) => clauseOf(rule, `require/${i}`)),
  }
  faults.throwIfAny()
  return space
}

export const meets = (row: Row, clause: Clause): boolean =>
  clause.every(({ factor, levels }) => levels[row[factor]!] === 1)

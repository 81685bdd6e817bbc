/** Arrays that are known by construction; for axes without rules they are hard to beat by search. */
import { fieldOf, type Field } from './field'

/** Rows that cover every pair (or triple) of as many of these factors as the construction can hold, in the
 * order given: the largest first, please.
 * @returns rows with one level for each factor it holds, the factors beyond open (-1); `undefined` when there
 * is no construction for these */
export function knownRows(sizes: readonly number[], strength: number): number[][] | undefined {
  if (sizes.length < 2) return undefined
  if (strength === 2 && sizes.every((size) => size === 2)) return binary(sizes.length)
  const field = fieldOf(Math.max(...sizes))
  if (!field || (strength === 3 && sizes.length > field.size + 1)) return undefined
  const columns = sizes.length <= field.size + 1 ? orthogonal(field, strength) : squared(field)
  return columns.map((row) => sizes.map((size, i) => (i < row.length && row[i]! < size ? row[i]! : -1)))
}

/** Kleitman & Spencer 1973, Katona 1973: the fewest rows there can be. Each factor is another choice of ⌊n/2⌋
 * of the rows but the first. */
function binary(factors: number): number[][] {
  const n = binaryRows(factors)
  const columns = subsets(n - 1, Math.floor(n / 2), factors)
  return Array.from({ length: n }, (_, row) =>
    columns.map((chosen) => (row > 0 && chosen.includes(row - 1) ? 1 : 0)),
  )
}

/** The fewest rows that cover all pairs of two-level factors. */
export function binaryRows(factors: number): number {
  let n = 4
  while (binomial(n - 1, Math.floor(n / 2)) < factors) n++
  return n
}
function binomial(n: number, k: number): number {
  let value = 1
  for (let i = 1; i <= k; i++) value = (value * (n - k + i)) / i
  return Math.round(value)
}

function subsets(n: number, size: number, most: number): number[][] {
  const found: number[][] = []
  const visit = (from: number, chosen: number[]): void => {
    if (found.length >= most) return
    if (chosen.length === size) return void found.push(chosen)
    for (let i = from; i <= n - (size - chosen.length); i++) visit(i + 1, [...chosen, i])
  }
  visit(0, [])
  return found
}

const elements = (n: number) => Array.from({ length: n }, (_, i) => i)

/** Bush 1952: q^t rows for q + 1 factors of q levels, every tuple of t exactly once. Rows are the polynomials
 * of degree below t: their values at each element, and last their highest coefficient. */
function orthogonal({ size, add, times }: Field, strength = 2): number[][] {
  const polynomials = elements(strength).reduce<number[][]>(
    (list) => list.flatMap((rest) => elements(size).map((coefficient) => [...rest, coefficient])),
    [[]],
  )
  const valueAt = (polynomial: readonly number[], x: number) =>
    polynomial.reduce((value, coefficient) => add(times(value, x), coefficient), 0)
  return polynomials.map((polynomial) => [
    ...elements(size).map((x) => valueAt(polynomial, x)),
    polynomial[0]!,
  ])
}

/** Williams 2000: 2q² - q rows for q(q + 1) + 1 factors of q levels. The orthogonal array q times side by
 * side covers all but pairs of copies of one factor; its rows without the constant ones, each factor
 * repeated, cover those. One more factor takes the slopes. */
function squared(field: Field): number[][] {
  const rows = orthogonal(field)
  const above = rows.map((row) => [...elements(field.size).flatMap(() => row), 0])
  const below = rows
    .filter((row) => row[field.size] !== 0)
    .map((row) => [
      ...row.slice(0, field.size).flatMap((level) => new Array<number>(field.size + 1).fill(level)),
      row[field.size]!,
    ])
  return [...above, ...below]
}

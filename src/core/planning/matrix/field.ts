/** Finite fields of the small prime powers, as tables: what the known constructions of covering arrays
 * calculate in. */

export type Field = { size: number; add(a: number, b: number): number; times(a: number, b: number): number }

/** x^n of an irreducible polynomial over GF(p), as the digits (base p, lowest first) that it stands for. */
const POWERS: Record<number, { p: number; n: number; reduced: number[] }> = {
  4: { p: 2, n: 2, reduced: [1, 1] }, // x^2 = x + 1
  8: { p: 2, n: 3, reduced: [1, 1, 0] }, // x^3 = x + 1
  9: { p: 3, n: 2, reduced: [2, 0] }, // x^2 = 2
  16: { p: 2, n: 4, reduced: [1, 1, 0, 0] }, // x^4 = x + 1
  25: { p: 5, n: 2, reduced: [2, 0] }, // x^2 = 2
  27: { p: 3, n: 3, reduced: [2, 1, 0] }, // x^3 = x + 2
}
const PRIMES = [2, 3, 5, 7, 11, 13, 17, 19, 23, 29, 31]

/** The smallest field with at least so many elements, or `undefined` beyond 31. */
export function fieldOf(least: number): Field | undefined {
  const size = [...PRIMES, ...Object.keys(POWERS).map(Number)]
    .sort((a, b) => a - b)
    .find((one) => one >= least)
  if (size === undefined) return undefined
  const power = POWERS[size]
  if (!power) return { size, add: (a, b) => (a + b) % size, times: (a, b) => (a * b) % size }
  return {
    size,
    add: (a, b) =>
      fromDigits(
        digits(a, power).map((digit, i) => (digit + digits(b, power)[i]!) % power.p),
        power.p,
      ),
    times: (a, b) => multiply(a, b, power),
  }
}

type Power = (typeof POWERS)[number]
const digits = (value: number, { p, n }: Power) =>
  Array.from({ length: n }, (_, i) => Math.floor(value / p ** i) % p)
const fromDigits = (list: number[], p: number) => list.reduceRight((sum, digit) => sum * p + digit, 0)

function multiply(a: number, b: number, power: Power): number {
  const { p, n, reduced } = power
  const product = new Array<number>(2 * n - 1).fill(0)
  digits(a, power).forEach((x, i) =>
    digits(b, power).forEach((y, j) => (product[i + j] = (product[i + j]! + x * y) % p)),
  )
  for (let i = 2 * n - 2; i >= n; i--) {
    reduced.forEach((digit, j) => (product[i - n + j] = (product[i - n + j]! + product[i]! * digit) % p))
    product[i] = 0
  }
  return fromDigits(product.slice(0, n), p)
}

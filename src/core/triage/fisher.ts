/** Fisher's exact test (Fisher 1922), one-sided. */

/** ln(n!) for n from 0 to `most`. */
export function lnFactorials(most: number): Float64Array {
  const table = new Float64Array(most + 1)
  for (let n = 2; n <= most; n++) table[n] = table[n - 1]! + Math.log(n)
  return table
}

/** The natural logarithm of the chance that of `here.of` rows, drawn from `counts.all` of which
 * `counts.failed` failed, so many as `here.failed` or more are failures. With many rows the chance itself is
 * too small for a number.
 * @param lnFactorial reaches `counts.all` */
export function lnFisher(
  lnFactorial: Float64Array,
  counts: { all: number; failed: number },
  here: { of: number; failed: number },
): number {
  const ln = (n: number) => lnFactorial[n]!
  const choose = (n: number, k: number) => ln(n) - ln(k) - ln(n - k)
  const most = Math.min(here.of, counts.failed)
  const passed = counts.all - counts.failed
  const least = Math.max(0, here.of - passed)
  const from = Math.max(here.failed, least)
  if (from > most) return -Infinity
  if (from === least) return 0
  const term = (k: number) => choose(counts.failed, k) + choose(passed, here.of - k)
  // Relative to the largest term, which is the first one from the mean on.
  const mean = Math.round((here.of * counts.failed) / counts.all)
  const largest = term(Math.min(most, Math.max(from, mean)))
  let sum = 0
  for (let k = from; k <= most; k++) sum += Math.exp(term(k) - largest)
  return Math.min(0, largest + Math.log(sum) - choose(counts.all, here.of))
}

/** Prints a figure beside its bound, as a ratio first: below 1 it is reached. */
export function report(name: string, value: number, bound: number, unit: string): void {
  const digits = value < 10 ? 2 : 0
  console.log(`${(value / bound).toFixed(2)}  ${name}: ${value.toFixed(digits)} ${unit} of ${bound}`)
}

/** The value that `share` of them are at or below. */
export function quantile(values: readonly number[], share: number): number {
  const sorted = values.toSorted((a, b) => a - b)
  return sorted[Math.max(0, Math.ceil(sorted.length * share) - 1)] ?? Number.NaN
}

/** Milliseconds that `work` takes. */
export async function timed<T>(work: () => Promise<T>): Promise<{ ms: number; value: T }> {
  const begun = performance.now()
  const value = await work()
  return { ms: performance.now() - begun, value }
}

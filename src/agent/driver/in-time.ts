/** Waiting for an answer that may never come. */

export const LATE = Symbol('late')

/** @returns the answer, or `LATE` when it did not come in time; what comes after that is passed over, a
 * failure too */
export async function inTime<T>(work: Promise<T>, limitMs: number): Promise<T | typeof LATE> {
  work.catch(() => {})
  let timer: NodeJS.Timeout | undefined
  const late = new Promise<typeof LATE>((resolve) => {
    timer = setTimeout(() => resolve(LATE), limitMs)
  })
  try {
    return await Promise.race([work, late])
  } finally {
    clearTimeout(timer)
  }
}

/** Limits console output in the page itself: each line costs the agent a tenth of a millisecond, and a page
 * may print 200,000. */

/** Console lines of one document that reach the agent. */
export const LINES_MOST = 10_000
/** So many that did not come through are told at once. */
export const TOLD_AT = 10_000

/** Runs in every document before its own scripts.
 * @param mark begins the line that tells of what did not come through; no page knows it */
export function guardConsole({ most, toldAt, mark }: { most: number; toldAt: number; mark: string }): void {
  let said = 0
  let kept = 0
  let timer: ReturnType<typeof setInterval> | undefined
  const own = console as unknown as Record<string, (...parts: unknown[]) => void>
  const tell = own.debug!.bind(console)
  for (const level of ['log', 'info', 'warn', 'error', 'debug', 'trace', 'dir', 'table', 'assert']) {
    const say = own[level]?.bind(console)
    if (!say) continue
    own[level] = (...parts: unknown[]) => {
      if (said < most) {
        said++
        return say(...parts)
      }
      kept++
      if (kept === toldAt) tellKept()
      // What is left when the page is done with a burst: told as soon as it lets anything else happen.
      timer ??= setInterval(tellKept, 250)
    }
  }

  function tellKept(): void {
    if (kept > 0) tell(mark + kept)
    kept = 0
  }
}

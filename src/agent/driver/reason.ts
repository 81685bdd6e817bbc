/** Why something in the browser did not work, as people read it: the libraries behind the drivers say it in
 * several lines, with names of their functions and times to the nanosecond. */
const OWN_NAMES = /^(?:Error: )?(?:[a-zA-Z]+\.[a-zA-Z]+: )?/
const TIMEOUT = /^(Navigation )?[tT]imeout (?:of )?([\d.]+) ?ms exceeded\.?/

/** @returns one line */
export function reasonOf(error: unknown): string {
  const line = ((error as Error).message.split('\n')[0] ?? '').replace(OWN_NAMES, '')
  const [, isNavigation, ms] = TIMEOUT.exec(line) ?? []
  if (ms === undefined) return line
  const seconds = Number((Number(ms) / 1000).toFixed(1))
  return `${isNavigation ? 'it did not come' : 'it was not done'} within ${seconds} s`
}

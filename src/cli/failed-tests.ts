/** The tests that Jest tells to have failed, by their full names; none where something else failed, as a file
 * that cannot be loaded.
 * @param said what it printed */
export function failedTests(said: string): string[] {
  // what tests print stands under such a heading as well
  const headings = [...said.matchAll(/^ {2}● (?!Console$)(.+)$/gm)].map(([, heading]) => heading!)
  const isAboutTests = headings.every((heading) => !heading.startsWith('Test suite failed to run'))
  const failed = Number(/^Tests:\s+(\d+) failed/m.exec(said)?.[1] ?? 0)
  const names = [...new Set(headings)].map((heading) => heading.replaceAll(' › ', ' '))
  return isAboutTests && names.length === failed ? names : []
}

/** The files in which tests failed, each once. @param said what Jest printed */
export const failedFiles = (said: string): string[] => [
  ...new Set([...said.matchAll(/^FAIL (\S+)/gm)].map(([, file]) => file!)),
]

/** The journeys that Playwright lists as failed at its end, by file and name; none where something else
 * failed, as the start of the product.
 * @param said what it printed */
export function failedJourneys(said: string): string[] {
  const [, list = ''] = /^ {2}\d+ failed\n((?: {4}\S.*(?:\n|$))+)/m.exec(said) ?? []
  return list
    .split('\n')
    .filter((line) => line.trim() !== '')
    .map((line) => line.trim())
}

/** Lines of each failure that say what was wrong; what follows is where, and how to look further. */
const WHY_LINES = 4
/** Where more fail than this, it is mostly for one reason. */
const WHY_FAILURES = 10

/** What failed and why, in few lines: the end of a long output may be all that somebody gets to see.
 * @param said what Jest or Playwright printed
 * @returns of each failure its name and, indented, the first lines that tell of it */
export function whyFailed(said: string): string[] {
  const lines = said.replaceAll(/\u001b\[[\d;]*m/g, '').split('\n')
  const names = new Map<string, string[]>()
  lines.forEach((line, i) => {
    const name = /^ {2}(?:● (?!Console$)|\d+\) )(.+?) ?─*$/.exec(line)?.[1]
    if (name === undefined || names.has(name)) return
    const after = lines.slice(i + 1)
    const end = after.findIndex((next) => /^ {0,2}\S/.test(next))
    const told = after.slice(0, end < 0 ? undefined : end).filter((next) => next.trim() !== '')
    names.set(
      name,
      told.slice(0, WHY_LINES).map((next) => `  ${next.trim()}`),
    )
  })
  const more = names.size - WHY_FAILURES
  return [
    ...[...names].slice(0, WHY_FAILURES).flatMap(([name, why]) => [name, ...why]),
    ...(more > 0 ? [`and ${more} more`] : []),
  ]
}

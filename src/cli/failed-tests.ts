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

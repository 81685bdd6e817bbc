/** Results as JUnit XML, for programs that read nothing else. */

export type WrittenCase = {
  suite: string
  className: string
  name: string
  ms: number
  outcome: 'passed' | 'recovered' | 'failed' | 'errored' | 'skipped' | 'cancelled'
  message?: string
  kind?: string
  /** Of a check that did not hold. */
  expected?: string
  actual?: string
}

/** Characters that XML 1.0 cannot hold, not even escaped. */
const UNWRITABLE =
  /[\u0000-\u0008\u000B\u000C\u000E-\u001F\uFFFE\uFFFF]|[\uD800-\uDBFF](?![\uDC00-\uDFFF])|(?<![\uD800-\uDBFF])[\uDC00-\uDFFF]/g
const ESCAPED: Record<string, string> = {
  '&': '&amp;',
  '<': '&lt;',
  '>': '&gt;',
  '"': '&quot;',
  '\n': '&#10;',
  '\r': '&#13;',
  '\t': '&#9;',
}
const text = (value: string) =>
  value.replace(UNWRITABLE, '').replace(/[&<>"\n\r\t]/g, (character) => ESCAPED[character]!)
const seconds = (ms: number) => (ms / 1000).toFixed(3)

/** One testsuite for each suite name, in the order they first come. A case that needed another try says so as
 * a flaky failure. */
export function writeJUnit(name: string, cases: readonly WrittenCase[]): string {
  const suites = new Map<string, WrittenCase[]>()
  for (const one of cases) suites.set(one.suite, [...(suites.get(one.suite) ?? []), one])
  const count = (list: readonly WrittenCase[], ...outcomes: WrittenCase['outcome'][]) =>
    list.filter(({ outcome }) => outcomes.includes(outcome)).length
  const numbers = (list: readonly WrittenCase[]) =>
    `tests="${list.length}" failures="${count(list, 'failed')}" errors="${count(list, 'errored')}" ` +
    `skipped="${count(list, 'skipped', 'cancelled')}" ` +
    `time="${seconds(list.reduce((sum, { ms }) => sum + ms, 0))}"`
  const body = [...suites].map(
    ([suite, list]) =>
      `  <testsuite name="${text(suite)}" ${numbers(list)}>\n${list.map(caseLine).join('\n')}\n  ` +
      '</testsuite>',
  )
  return (
    `<?xml version="1.0" encoding="UTF-8"?>\n<testsuites name="${text(name)}" ` +
    `${numbers(cases)}>\n${body.join('\n')}\n</testsuites>\n`
  )
}

const comparison = ({ expected, actual }: WrittenCase): string =>
  [expected !== undefined && `expected: ${expected}`, actual !== undefined && `actual: ${actual}`]
    .filter(Boolean)
    .join('\n')

function caseLine(written: WrittenCase): string {
  const { className, name, ms, outcome, message = '', kind = '' } = written
  const said = `message="${text(message)}" type="${text(kind)}"`
  const compared = comparison(written)
  const inner = {
    passed: '',
    recovered: `<flakyFailure ${said}/>`,
    failed: compared === '' ? `<failure ${said}/>` : `<failure ${said}>${text(compared)}</failure>`,
    errored: `<error ${said}/>`,
    skipped: `<skipped message="${text(message)}"/>`,
    cancelled: '<skipped message="cancelled"/>',
  }[outcome]
  const head = `    <testcase classname="${text(className)}" name="${text(name)}" time="${seconds(ms)}"`
  return inner === '' ? `${head}/>` : `${head}>${inner}</testcase>`
}

import { failedFiles, failedJourneys, failedTests, whyFailed } from './failed-tests'

const HANG = `
  ● WebKit › a click that leads away is recorded

    thrown: "Exceeded timeout"
`
const COUNT = 'Tests:       1 failed, 4 passed, 5 total\n'

test.each<[string, string, string[]]>([
  ['a test by its full name', HANG + COUNT, ['WebKit a click that leads away is recorded']],
  [
    'none of what tests print',
    `  ● Console\n\n    console.warn\n${HANG}${COUNT}`,
    ['WebKit a click that leads away is recorded'],
  ],
  ['once, though it is told twice', HANG + HANG + COUNT, ['WebKit a click that leads away is recorded']],
  ['none, where a file could not be loaded', `  ● Test suite failed to run\n${HANG}${COUNT}`, []],
  ['none, where not all are told', HANG + COUNT.replace('1', '2'), []],
  ['none, where nothing ran', 'no such file', []],
])('%s', (_, said, names) => expect(failedTests(said)).toEqual(names))

test('each file in which one failed, once', () => {
  const said =
    `PASS src/a.test.ts\nFAIL src/b.test.ts (5.1 s)\n${HANG}\nFAIL src/c.test.tsx\nFAIL ` + `src/b.test.ts\n`
  expect(failedFiles(said)).toEqual(['src/b.test.ts', 'src/c.test.tsx'])
})

const LISTED = `
  2 failed
    e2e/workspace.spec.ts:183:1 › steps are dragged 
    e2e/workspace.spec.ts:314:1 › a workspace comes in as a zip 
  95 passed (33.4m)
`

test.each<[string, string, string[]]>([
  [
    'journeys that are listed as failed',
    LISTED,
    [
      'e2e/workspace.spec.ts:183:1 › steps are dragged',
      'e2e/workspace.spec.ts:314:1 › a workspace comes in as a zip',
    ],
  ],
  ['none, where the product did not start', 'Error: it was not ready in time', []],
  ['none, where all passed', '  99 passed (24.3m)\n', []],
])('%s', (_, said, names) => expect(failedJourneys(said)).toEqual(names))

const JOURNEY = `
  1) e2e/workspace.spec.ts:183:1 › steps are dragged ──────────

    \u001b[31mError: the list is empty\u001b[39m

    Locator: getByRole('list')
`

test.each<[string, string, string[]]>([
  [
    'a test, and its first words',
    `${HANG}${COUNT}`,
    ['WebKit › a click that leads away is recorded', '  thrown: "Exceeded timeout"'],
  ],
  [
    'a journey, without colours',
    JOURNEY,
    [
      'e2e/workspace.spec.ts:183:1 › steps are dragged',
      '  Error: the list is empty',
      "  Locator: getByRole('list')",
    ],
  ],
  [
    'each once',
    HANG + HANG,
    ['WebKit › a click that leads away is recorded', '  thrown: "Exceeded timeout"'],
  ],
  [
    'few of many',
    Array.from({ length: 30 }, (_, i) => `  ● quay ${i}\n\n    it is high\n`).join('\n'),
    [...Array.from({ length: 10 }, (_, i) => [`quay ${i}`, '  it is high']).flat(), 'and 20 more'],
  ],
  ['nothing, where nothing failed', '  99 passed (24.3m)\n', []],
])('why: %s', (_, said, why) => expect(whyFailed(said)).toEqual(why))

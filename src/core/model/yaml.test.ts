import { parseDefinition } from './files'

const problems = (text: string) => parseDefinition('a.case.yaml', text).problems

/** Each of these took the process down, or minutes of it. */
test.each([
  ['lists in flow', '['.repeat(200_000), 'nested'],
  ['maps in flow', '{a: '.repeat(100_000), 'nested'],
  ['tagged lists', '!t ['.repeat(100_000), 'nested'],
  ['anchored lists', '[&a ['.repeat(100_000), 'nested'],
  ['lists in lists on one line', `${'- '.repeat(100_000)}x`, 'nested'],
  ['keys that are maps', `${'? '.repeat(100_000)}x`, 'nested'],
  [
    'lines ever further in',
    Array.from({ length: 1500 }, (_, i) => `${' '.repeat(i)}a:`).join('\n'),
    'nested',
  ],
  ['brackets over many lines', '[\n'.repeat(100_000), 'nested'],
])('%s without end are refused in words', (_, text, words) =>
  expect(problems(text)[0]!.message).toContain(words),
)

test('130,000 keys are refused, and only so many problems are told', () => {
  const many = problems(Array.from({ length: 130_000 }, (_, i) => `k${i}: v`).join('\n'))
  expect(many).toMatchObject([{ line: 1, message: 'it has more than 100,000 values' }])
  const some = problems(
    `case: a\ntitle: A\nsteps:\n${Array.from({ length: 2000 }, (_, i) => `  - what${i}: 1\n`).join('')}`,
  )
  expect(some.length).toBeLessThanOrEqual(102)
  expect(some.map(({ message }) => message).join('\n')).toMatch(/and \d+ more like these/)
})

test('a key that is there twice is told where the second one stands', () => {
  expect(problems('case: a\ntitle: A\ntitle: B\nsteps:\n  - note: n\n')).toMatchObject([
    { line: 3, message: 'Map keys must be unique' },
  ])
})

test('aliases that grow without end are refused', () => {
  const lines = ['a: &a [x, x, x, x, x, x, x, x, x]']
  for (let i = 1; i < 12; i++)
    lines.push(
      `${'b'.repeat(i)}: &n${i} [${Array(9)
        .fill(i === 1 ? '*a' : `*n${i - 1}`)
        .join(', ')}]`,
    )
  expect(problems(lines.join('\n')).length).toBeGreaterThan(0)
})

test('brackets in texts do not count', () => {
  const checks = Array.from(
    { length: 400 },
    (_, i) => `  - check: { of: { text: "A" }, text: { matches: "^\\\\[${i} (" } }`,
  ).join('\n')
  const text = `case: a\ntitle: A [draft\nsteps:\n${checks.replaceAll('(', '')}\n`
  expect(problems(text)).toEqual([])
})

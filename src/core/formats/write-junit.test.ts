import fc from 'fast-check'
import { ResultReader, writeJUnit, type ResultCase, type WrittenCase } from '.'

function read(xml: string): { cases: ResultCase[]; outcomes: Record<string, number> } {
  const cases: ResultCase[] = []
  const reader = new ResultReader((one) => void cases.push(one))
  reader.write(xml)
  return { cases, outcomes: reader.end().outcomes }
}
const one = (more: Partial<WrittenCase> = {}): WrittenCase => ({
  suite: 'Chromium, Debian',
  className: 'sign-in',
  name: 'Sign in at the desk',
  ms: 1250,
  outcome: 'passed',
  ...more,
})

test('what is written is read again: outcomes, times, words', () => {
  const { cases, outcomes } = read(
    writeJUnit('Night full', [
      one(),
      one({ outcome: 'failed', message: 'expected "12.40" < actual\n& more', kind: 'check' }),
      one({ outcome: 'errored' }),
      one({ outcome: 'recovered', message: 'first try' }),
      one({ outcome: 'skipped', message: '“A” did not pass' }),
      one({ suite: 'Firefox', outcome: 'cancelled' }),
    ]),
  )
  expect(outcomes).toMatchObject({ passed: 1, failed: 1, errored: 1, recovered: 1, skipped: 2 })
  expect(cases.map(({ suites }) => suites.at(-1))).toEqual([...Array(5).fill('Chromium, Debian'), 'Firefox'])
  expect(cases[0]).toMatchObject({ name: 'Sign in at the desk', className: 'sign-in', ms: 1250 })
  expect(cases[1]!.message).toBe('expected "12.40" < actual\n& more')
})
test('any text at all gives a file that can be read', () => {
  fc.assert(
    fc.property(
      fc.string({ unit: 'binary', maxLength: 40 }),
      fc.string({ unit: 'binary', maxLength: 40 }),
      (name, message) => {
        const { cases } = read(writeJUnit(name, [one({ name: `a${name}`, message, outcome: 'failed' })]))
        expect(cases).toHaveLength(1)
      },
    ),
    { numRuns: 200 },
  )
})
test('nothing at all is a file too', () => expect(writeJUnit('none', [])).toContain('tests="0"'))

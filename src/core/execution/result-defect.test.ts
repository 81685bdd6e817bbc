import { draftOfResult } from '.'

test.each([
  [
    'the message is what it is called by, and its first line alone',
    { name: 'refuses a pet', message: 'expected: <2> but was: <3>\nat the gate' },
    {
      title: 'refuses a pet: expected: <2> but was: <3>',
      steps: '1. Run the test “refuses a pet”',
      actual: 'expected: <2> but was: <3>\nat the gate',
    },
  ],
  [
    'where it stands is said as far as the file knows it',
    { name: 'boards', className: 'gate.Boarding', file: 'boarding_test.py', message: 'no' },
    { steps: '1. Run the test “boards” of gate.Boarding, in boarding_test.py' },
  ],
  [
    'without a message the first line of what stands below',
    { name: 'boards', detail: '\n  ValueError: no berth\n  File "gate.py", line 3' },
    { title: 'boards: ValueError: no berth' },
  ],
  ['without any of it the type', { name: 'boards', type: 'TimeoutError' }, { title: 'boards: TimeoutError' }],
  ['of nothing at all', { name: 'boards' }, { title: 'boards: it failed, and said nothing' }],
])('%s', (_, result, draft) => expect(draftOfResult(result)).toMatchObject(draft))

test('of a long stack its beginning goes along, and says that there is more', () => {
  const detail = Array.from({ length: 10_000 }, (__, i) => `  at frame${i} (gate.js:${i}:1)`).join('\n')
  const { actual } = draftOfResult({ name: 'boards', message: 'no berth', detail })
  expect(actual.split('\n').slice(0, 3)).toEqual(['no berth', '', 'at frame0 (gate.js:0:1)'])
  expect(actual.endsWith('\n…')).toBe(true)
  expect(actual.length).toBeLessThan(9000)
})

test('a message of megabytes makes a draft that can be logged', () => {
  const { title, actual } = draftOfResult({ name: 'n'.repeat(5000), message: 'm'.repeat(2_000_000) })
  expect(title.length).toBeLessThanOrEqual(200)
  expect(actual.length).toBeLessThanOrEqual(20_000)
})

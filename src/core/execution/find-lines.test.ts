import { linesOfKind, linesWith, verbsIn } from './find-lines'
import type { OutlineLine } from './outline'
import { outlineLine } from './testing/lines'

const line = (path: string, words: string, more: Partial<OutlineLine> = {}): OutlineLine => {
  const [verb = '', object = '', detail = ''] = words.split('/')
  return outlineLine(path, { verb, object, detail }, more)
}
const LINES = [
  line('0', 'open/booking:/', {
    requests: [{ atMs: 1, method: 'GET', url: 'http://ferry/fares', status: 503, ms: 4 }],
  }),
  line('1', 'type/Passengers/3', { values: { passengers: '3' }, note: 'found by css' }),
  line('2', 'check/the total/is 45.00', {
    mark: 'failed',
    failure: {
      kind: 'check',
      message: 'The text is not what was expected',
      expected: '45.00',
      actual: '47.50',
    },
  }),
  line('3', 'click/Pay', { console: [{ atMs: 1, level: 'error', text: 'fare is undefined' }] }),
  line('4', 'click/Print', {
    because: 'Auditors want it',
    console: [{ atMs: 1, level: 'log', text: 'ready' }],
    requests: [{ atMs: 1, method: 'POST', url: 'http://ferry/print', status: 200, ms: 4 }],
  }),
]
const paths = (lines: readonly OutlineLine[]) => lines.map(({ path }) => path).join(' ')

test.each([
  ['FARE', '0 3'],
  ['47.5', '2'],
  ['passengers 3', '1'],
  ['found by', '1'],
  ['auditors', '4'],
  ['POST http', '4'],
  ['click p', '3 4'],
  ['  ', ''],
  ['storm', ''],
])('“%s” is in the lines %s', (text, found) => expect(paths(linesWith(LINES, text))).toBe(found))

test.each([
  [null, '0 1 2 3 4'],
  ['checks', '2'],
  ['warnings', '3'],
  ['failed-requests', '0'],
  ['verb:click', '3 4'],
  ['verb:swim', ''],
  ['something else', '0 1 2 3 4'],
])('narrowed to %s: %s', (only, found) => expect(paths(linesOfKind(LINES, only))).toBe(found))

test('verbs are offered once each', () =>
  expect(verbsIn(LINES)).toEqual(['verb:check', 'verb:click', 'verb:open', 'verb:type']))

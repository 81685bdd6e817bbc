import { outlineText } from './outline-text'
import type { OutlineLine } from './outline'
import { outlineLine } from './testing/lines'

const line = (depth: number, words: OutlineLine['words'], more: Partial<OutlineLine> = {}) =>
  outlineLine('main.0', words, { depth, ...more })

test('a log as text: nested, with what failed under its step', () =>
  expect(
    outlineText([
      line(0, { verb: 'use', object: 'pay', detail: '' }, { ms: 2640 }),
      line(1, { verb: 'type', object: 'Card number', detail: '5555' }, { note: 'found by css' }),
      line(
        1,
        { verb: 'check', object: 'fare', detail: '' },
        {
          mark: 'failed',
          ms: 90,
          failure: { kind: 'check', message: 'It is another', expected: '45', actual: '' },
        },
      ),
    ]),
  ).toBe(
    `use pay (passed, 2.6 s)
  type Card number 5555 (passed)
      found by css
  check fare (failed, 0.1 s)
      It is another
      expected: 45
      actual: 
`,
  ))

import { mendsIn } from './mends'
import type { AttemptEvent } from './work'

const NOTE = 'found by text; testId finds it no more: mend “testId: old” or take it out'
const step = (path: string, object: string, note?: string): AttemptEvent[] => [
  { atMs: 1, type: 'step-started', path, words: { verb: 'click', object, detail: '' } },
  { atMs: 2, type: 'step-ended', path, outcome: 'passed', ms: 1, ...(note && { note }) },
]

test('what was found by another way is to be mended, with the step it was at', () =>
  expect(
    mendsIn([
      ...step('main.0', 'Open'),
      ...step('main.1', 'Board', NOTE),
      ...step('main.2', 'Look up', 'seen on the screen at 4, 5, 90 in 100 sure; label finds it no more'),
    ]),
  ).toEqual([
    { path: 'main.1', words: 'click Board', note: NOTE },
    {
      path: 'main.2',
      words: 'click Look up',
      note: 'seen on the screen at 4, 5, 90 in 100 sure; label finds it no more',
    },
  ]))

test('other notes mend nothing, and a loop says the same once', () =>
  expect(
    mendsIn([
      ...step('main.0', 'Go', 'switched off'),
      ...step('main.1.0#1', 'Board', NOTE),
      ...step('main.1.0#2', 'Board', NOTE),
    ]).map(({ path }) => path),
  ).toEqual(['main.1.0#1']))

test('no more than one reads', () =>
  expect(mendsIn(Array.from({ length: 50 }, (_, i) => step(`main.${i}`, `B${i}`, NOTE)).flat())).toHaveLength(
    8,
  ))

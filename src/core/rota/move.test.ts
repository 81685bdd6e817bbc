import type { RotationTimes } from '../model'
import { moveOne, moveSeries } from './move'
import { startsOf } from './times'
import { whenWords } from './words'

const times = (more: Partial<RotationTimes>): RotationTimes => ({
  rule: 'FREQ=DAILY',
  timezone: 'Europe/Lisbon',
  start: '2026-11-01T22:00',
  except: [],
  blackout: [],
  calendars: [],
  onBlackout: 'skip',
  moves: [],
  missed: 'skip',
  whileRunning: 'start',
  notWith: [],
  ...more,
})
const starts = (
  when: RotationTimes,
  from = '2026-11-10T00:00:00Z',
  to = '2026-11-13T00:00:00Z',
  calendars: Parameters<typeof startsOf>[1] = [],
) => startsOf(when, calendars, from, to).map(({ at }) => at.slice(5, 16))
const [AT, TO] = ['2026-11-11T22:00:00.000Z', '2026-11-11T23:15:00.000Z']

describe('one start', () => {
  test('goes to its new time, the others stay', () =>
    expect(starts({ ...times({}), ...moveOne(times({}), AT, TO) })).toEqual([
      '11-10T22:00',
      '11-11T23:15',
      '11-12T22:00',
    ]))
  test('moved again it is still one move; moved back there is none', () => {
    const once = { ...times({}), ...moveOne(times({}), AT, TO) }
    const twice = { ...once, ...moveOne(once, TO, '2026-11-12T01:00:00.000Z') }
    expect(twice.moves).toEqual([{ from: '2026-11-11T22:00', to: '2026-11-12T01:00' }])
    expect(moveOne(twice, '2026-11-12T01:00:00.000Z', AT).moves).toEqual([])
  })
  test('a move of a start that is planned no more does nothing', () =>
    expect(starts(times({ moves: [{ from: '2026-11-11T21:00', to: '2026-11-11T23:15' }] }))).toEqual([
      '11-10T22:00',
      '11-11T22:00',
      '11-12T22:00',
    ]))
  test('into a blackout it stays: a person put it there', () =>
    expect(
      starts(
        times({
          moves: [{ from: '2026-11-11T22:00', to: '2026-11-11T23:15' }],
          blackout: [{ start: '2026-11-11T23:00', end: '2026-11-12T02:00' }],
        }),
      ),
    ).toEqual(['11-10T22:00', '11-11T23:15', '11-12T22:00']))
  test('one that a blackout delayed can be moved by the time it was delayed to', () => {
    const when = times({
      blackout: [{ start: '2026-11-11T21:30', end: '2026-11-11T22:30' }],
      onBlackout: 'delay',
    })
    expect(starts(when)).toEqual(['11-10T22:00', '11-11T22:30', '11-12T22:00'])
    expect(starts({ ...when, ...moveOne(when, '2026-11-11T22:30:00.000Z', TO) })).toEqual([
      '11-10T22:00',
      '11-11T23:15',
      '11-12T22:00',
    ])
  })
})

describe('all of its kind', () => {
  const moved = (when: RotationTimes, at: string, to: string) => {
    const found = moveSeries(when, at, to)
    if ('why' in found) throw new Error(found.why)
    return { ...when, ...found }
  }
  test('by the same on the wall, also across a clock change', () => {
    const when = moved(
      times({ start: '2026-10-01T22:00' }),
      '2026-10-20T21:00:00.000Z',
      '2026-10-20T21:30:00.000Z',
    )
    expect(when.start).toBe('2026-10-01T22:30')
    expect(starts(when, '2026-10-24T00:00:00Z', '2026-10-27T00:00:00Z')).toEqual([
      '10-24T21:30',
      '10-25T22:30',
      '10-26T22:30',
    ])
  })
  test('to another day of the week, the days of the rule go along', () => {
    const when = moved(
      times({ rule: 'FREQ=WEEKLY;BYDAY=MO,TH', start: '2026-11-02T10:00' }),
      '2026-11-12T10:00:00.000Z',
      '2026-11-13T11:00:00.000Z',
    )
    expect(when.rule).toBe('FREQ=WEEKLY;BYDAY=TU,FR')
    expect(starts(when, '2026-11-09T00:00:00Z', '2026-11-16T00:00:00Z')).toEqual([
      '11-10T11:00',
      '11-13T11:00',
    ])
  })
  test.each([
    ['hours in the rule', 'FREQ=HOURLY;BYHOUR=7,8', '2026-11-11T23:15:00.000Z', /names hours/],
    [
      'days of the month, to another day',
      'FREQ=MONTHLY;BYMONTHDAY=11',
      '2026-11-12T22:00:00.000Z',
      /names days of the month/,
    ],
  ])('%s: a sentence instead', (_, rule, to, why) =>
    expect(moveSeries(times({ rule }), AT, to)).toMatchObject({ why: expect.stringMatching(why) as unknown }),
  )
  test('within the day a rule by days of the month moves', () =>
    expect(moved(times({ rule: 'FREQ=MONTHLY;BYMONTHDAY=11' }), AT, TO).start).toBe('2026-11-01T23:15'))
})

test('calendars of the workspace are blackouts of who names them', () => {
  const calendars = [
    {
      key: 'drills',
      title: 'Harbour drills',
      blackout: [{ start: '2026-11-11T00:00', end: '2026-11-12T00:00' }],
    },
  ]
  expect(starts(times({ calendars: ['drills'] }), undefined, undefined, calendars)).toEqual([
    '11-10T22:00',
    '11-12T22:00',
  ])
  expect(starts(times({}), undefined, undefined, calendars)).toHaveLength(3)
})

test.each([
  [null, '2026-11-01T22:00', 'once, on 2026-11-01 at 22:00'],
  ['FREQ=DAILY', '2026-11-01T22:00', 'daily at 22:00'],
  ['FREQ=DAILY;INTERVAL=3', '2026-11-01T22:00', 'every 3 days at 22:00'],
  ['FREQ=WEEKLY;BYDAY=MO,TH', '2026-11-01T12:30', 'Monday and Thursday at 12:30'],
  ['FREQ=WEEKLY;BYDAY=MO,TU,WE,TH,FR', '2026-11-01T12:30', 'on workdays at 12:30'],
  ['FREQ=WEEKLY;INTERVAL=2;BYDAY=MO', '2026-11-01T12:30', 'every 2 weeks, Monday at 12:30'],
  ['FREQ=HOURLY;INTERVAL=2', '2026-11-01T07:40', 'every 2 hours from 07:40'],
  ['FREQ=HOURLY;BYHOUR=7,8,9', '2026-11-01T07:40', 'each hour between 07:40 and 09:40'],
  ['FREQ=MONTHLY;BYMONTHDAY=1', '2026-11-01T05:00', 'monthly on day 1 at 05:00'],
  ['FREQ=MONTHLY;BYDAY=-1FR', '2026-11-01T05:00', 'monthly on the last Friday at 05:00'],
  ['FREQ=MONTHLY;BYDAY=1MO', '2026-11-01T05:00', 'monthly on the first Monday at 05:00'],
  ['FREQ=MONTHLY;BYDAY=5FR', '2026-11-01T05:00', 'FREQ=MONTHLY;BYDAY=5FR from 2026-11-01 05:00'],
  ['FREQ=YEARLY', '2026-11-01T05:00', 'FREQ=YEARLY from 2026-11-01 05:00'],
])('%s is “%s”', (rule, start, words) => expect(whenWords({ rule, start })).toBe(words))

import fc from 'fast-check'
import { occurrences, type OccurrencesInput } from '.'

const at = (input: Partial<OccurrencesInput>) =>
  occurrences({
    rule: null,
    timezone: 'Europe/Lisbon',
    start: '2026-03-01T02:30',
    from: '2026-01-01T00:00:00Z',
    to: '2027-01-01T00:00:00Z',
    ...input,
  })
const locals = (input: Partial<OccurrencesInput>) => at(input).map(({ local }) => local)
const faults = (input: Partial<OccurrencesInput>): string[] => {
  try {
    at(input)
  } catch (error) {
    return (error as { faults: { path: string; message: string }[] }).faults.map(({ path }) => path)
  }
  return []
}

describe('clock changes', () => {
  // Lisbon: 2026-03-29 01:00 becomes 02:00, 2026-10-25 02:00 becomes 01:00.
  test('the hour stays the local one across the change', () => {
    const days = at({
      rule: 'FREQ=DAILY',
      start: '2026-03-27T09:00',
      from: '2026-03-27T00:00:00Z',
      to: '2026-03-31T00:00:00Z',
    })
    expect(days.map((one) => one.at)).toEqual([
      '2026-03-27T09:00:00.000Z',
      '2026-03-28T09:00:00.000Z',
      '2026-03-29T08:00:00.000Z',
      '2026-03-30T08:00:00.000Z',
    ])
    expect(new Set(days.map(({ local }) => local.slice(11)))).toEqual(new Set(['09:00:00']))
  })
  test('a time that is skipped moves forward by the gap, and says what it was to be', () => {
    expect(
      at({
        rule: 'FREQ=DAILY',
        start: '2026-03-28T01:30',
        from: '2026-03-29T00:00:00Z',
        to: '2026-03-30T00:00:00Z',
      }),
    ).toEqual([
      {
        at: '2026-03-29T01:30:00.000Z',
        local: '2026-03-29T02:30:00',
        note: 'was to be 2026-03-29T01:30:00, which the clock change skips',
      },
    ])
  })
  test('a time that occurs twice is taken once, the first', () => {
    expect(
      at({
        rule: 'FREQ=DAILY',
        start: '2026-10-24T01:30',
        from: '2026-10-25T00:00:00Z',
        to: '2026-10-26T00:00:00Z',
      }),
    ).toEqual([{ at: '2026-10-25T00:30:00.000Z', local: '2026-10-25T01:30:00' }])
  })
  test('hourly counts hours that pass: none is missing, none is there twice', () => {
    const hours = at({
      rule: 'FREQ=HOURLY',
      start: '2026-10-24T22:15',
      from: '2026-10-24T00:00:00Z',
      to: '2026-10-25T04:00:00Z',
    })
    expect(
      hours.map((one) => Date.parse(one.at)).every((ms, i, all) => i === 0 || ms - all[i - 1]! === 3_600_000),
    ).toBe(true)
    expect(hours.map(({ local }) => local.slice(11, 16))).toEqual([
      '22:15',
      '23:15',
      '00:15',
      '01:15',
      '01:15',
      '02:15',
      '03:15',
    ])
  })
  test('a change of half an hour', () => {
    // Lord Howe Island: 2026-10-04 02:00 becomes 02:30.
    expect(
      at({ timezone: 'Australia/Lord_Howe', rule: 'FREQ=DAILY;COUNT=1', start: '2026-10-04T02:10' })[0]!
        .local,
    ).toBe('2026-10-04T02:40:00')
  })
  test('daily in any zone, any day: the local hour, or the gap after it; and instants in order', () => {
    const zones = fc.constantFrom(
      'Europe/Lisbon',
      'America/St_Johns',
      'Australia/Lord_Howe',
      'Africa/Casablanca',
      'Asia/Kathmandu',
      'Pacific/Apia',
      'UTC',
    )
    fc.assert(
      fc.property(
        zones,
        fc.integer({ min: 0, max: 23 }),
        fc.integer({ min: 0, max: 59 }),
        fc.integer({ min: 1, max: 12 }),
        (timezone, hour, minute, month) => {
          const two = (n: number) => String(n).padStart(2, '0')
          const found = at({
            timezone,
            rule: 'FREQ=DAILY;COUNT=31',
            start: `2026-${two(month)}-01T${two(hour)}:${two(minute)}`,
            from: '2025-12-01T00:00:00Z',
            to: '2028-01-01T00:00:00Z',
          })
          expect(found.length).toBe(31)
          for (const { local, note } of found)
            if (!note) expect(local.slice(11, 16)).toBe(`${two(hour)}:${two(minute)}`)
          expect(found.map((one) => one.at)).toEqual(found.map((one) => one.at).toSorted())
        },
      ),
      { numRuns: 60 },
    )
  })
})

describe('rules', () => {
  test.each<[string, Partial<OccurrencesInput>, string[]]>([
    ['once', {}, ['2026-03-01T02:30:00']],
    [
      'Mondays and Wednesdays',
      { rule: 'FREQ=WEEKLY;BYDAY=MO,WE;COUNT=3', start: '2026-03-02T08:00' },
      ['2026-03-02T08:00:00', '2026-03-04T08:00:00', '2026-03-09T08:00:00'],
    ],
    [
      'the last Friday',
      { rule: 'FREQ=MONTHLY;BYDAY=-1FR;COUNT=2', start: '2026-03-01T08:00' },
      ['2026-03-27T08:00:00', '2026-04-24T08:00:00'],
    ],
    [
      'the first workday of a month',
      { rule: 'FREQ=MONTHLY;BYDAY=MO,TU,WE,TH,FR;BYSETPOS=1;COUNT=2', start: '2026-08-01T06:00' },
      ['2026-08-03T06:00:00', '2026-09-01T06:00:00'],
    ],
    [
      'the 31st only where there is one',
      { rule: 'FREQ=MONTHLY;BYMONTHDAY=31;COUNT=3', start: '2026-03-31T08:00' },
      ['2026-03-31T08:00:00', '2026-05-31T08:00:00', '2026-07-31T08:00:00'],
    ],
    [
      'every other week, by the week’s first day',
      {
        rule: 'FREQ=WEEKLY;INTERVAL=2;BYDAY=TU,SU;WKST=SU;COUNT=4',
        start: '1997-08-05T09:00',
        from: '1997-01-01T00:00:00Z',
        to: '1998-01-01T00:00:00Z',
        timezone: 'America/New_York',
      },
      ['1997-08-05T09:00:00', '1997-08-17T09:00:00', '1997-08-19T09:00:00', '1997-08-31T09:00:00'],
    ],
    [
      'every 90 minutes of working hours',
      { rule: 'FREQ=MINUTELY;INTERVAL=90;BYHOUR=9,10,11;COUNT=3', start: '2026-03-02T09:00' },
      ['2026-03-02T09:00:00', '2026-03-02T10:30:00', '2026-03-03T09:00:00'],
    ],
    [
      'twice an hour',
      { rule: 'FREQ=HOURLY;BYMINUTE=0,30;COUNT=3', start: '2026-03-02T09:00' },
      ['2026-03-02T09:00:00', '2026-03-02T09:30:00', '2026-03-02T10:00:00'],
    ],
    [
      'an end that is included',
      { rule: 'FREQ=DAILY', start: '2026-03-01T08:00', until: '2026-03-03T08:00' },
      ['2026-03-01T08:00:00', '2026-03-02T08:00:00', '2026-03-03T08:00:00'],
    ],
    [
      'an end that is a day',
      { rule: 'FREQ=DAILY', start: '2026-03-01T08:00', until: '2026-03-02' },
      ['2026-03-01T08:00:00', '2026-03-02T08:00:00'],
    ],
    [
      'an end in the rule, as an instant',
      { rule: 'FREQ=DAILY;UNTIL=20260302T080000Z', start: '2026-03-01T08:00' },
      ['2026-03-01T08:00:00', '2026-03-02T08:00:00'],
    ],
    [
      'exceptions, which COUNT does not make up for',
      { rule: 'FREQ=DAILY;COUNT=4', start: '2026-03-01T08:00', except: ['2026-03-02T08:00', '2026-03-03'] },
      ['2026-03-01T08:00:00', '2026-03-04T08:00:00'],
    ],
    [
      'an exception as an instant',
      { rule: 'FREQ=DAILY;COUNT=2', start: '2026-07-01T08:00', except: ['2026-07-01T07:00:00Z'] },
      ['2026-07-02T08:00:00'],
    ],
    [
      '“to” is not included',
      {
        rule: 'FREQ=DAILY',
        start: '2026-01-01T00:00',
        from: '2026-01-02T00:00:00Z',
        to: '2026-01-04T00:00:00Z',
      },
      ['2026-01-02T00:00:00', '2026-01-03T00:00:00'],
    ],
  ])('%s', (_, input, expected) => expect(locals(input)).toEqual(expected))
})

describe('times in which nothing runs', () => {
  const night = { rule: 'FREQ=DAILY', start: '2026-03-01T08:00', to: '2026-03-06T00:00:00Z' }
  const closed = [
    { start: '2026-03-02T07:00', end: '2026-03-02T09:00' },
    { start: '2026-03-02T09:00', end: '2026-03-02T10:00' },
  ]
  test('skipped, or delayed to the end of all that touches', () => {
    expect(locals({ ...night, blackout: closed })).toEqual([
      '2026-03-01T08:00:00',
      '2026-03-03T08:00:00',
      '2026-03-04T08:00:00',
      '2026-03-05T08:00:00',
    ])
    expect(at({ ...night, blackout: closed, onBlackout: 'delay' })[1]).toEqual({
      at: '2026-03-02T10:00:00.000Z',
      local: '2026-03-02T10:00:00',
      note: 'was to be 2026-03-02T08:00:00, which is in a blackout',
    })
  })
  test('its end is open again, its start is closed', () => {
    expect(
      locals({
        ...night,
        blackout: [
          { start: '2026-03-02T07:00', end: '2026-03-02T08:00' },
          { start: '2026-03-04T08:00', end: '2026-03-04T08:01' },
        ],
      }),
    ).toEqual(['2026-03-01T08:00:00', '2026-03-02T08:00:00', '2026-03-03T08:00:00', '2026-03-05T08:00:00'])
  })
  test('several that are delayed to one moment are one', () => {
    expect(
      locals({
        rule: 'FREQ=HOURLY;COUNT=5',
        start: '2026-03-02T06:00',
        blackout: [{ start: '2026-03-02T06:30', end: '2026-03-02T09:00' }],
        onBlackout: 'delay',
      }),
    ).toEqual(['2026-03-02T06:00:00', '2026-03-02T09:00:00', '2026-03-02T10:00:00'])
  })
  test('one that recurs, and a delay that reaches into what is looked at', () => {
    const weekends = [{ rule: 'FREQ=WEEKLY;BYDAY=SA', start: '2026-01-03T00:00', end: '2026-01-05T00:00' }]
    expect(
      locals({
        rule: 'FREQ=DAILY',
        start: '2026-03-01T08:00',
        from: '2026-03-06T00:00:00Z',
        to: '2026-03-10T00:00:00Z',
        blackout: weekends,
      }),
    ).toEqual(['2026-03-06T08:00:00', '2026-03-09T08:00:00'])
    expect(
      locals({
        rule: 'FREQ=WEEKLY;BYDAY=SA',
        start: '2026-03-07T08:00',
        from: '2026-03-08T12:00:00Z',
        to: '2026-03-10T00:00:00Z',
        blackout: weekends,
        onBlackout: 'delay',
      }),
    ).toEqual(['2026-03-09T00:00:00'])
  })
})

test('what never comes is not looked for for ever', () => {
  for (const freq of ['MINUTELY', 'HOURLY', 'DAILY', 'WEEKLY', 'MONTHLY', 'YEARLY'])
    expect(at({ rule: `FREQ=${freq};BYMONTH=2;BYMONTHDAY=30` })).toEqual([])
})

test.each<[string, Partial<OccurrencesInput>, string[]]>([
  ['a zone that is none', { timezone: 'Europe/Skerrow' }, ['timezone']],
  ['a day that is none', { start: '2026-02-30T08:00' }, ['start']],
  ['an end before the start', { until: '2026-01-01T00:00' }, ['until']],
  ['a last day before the day it starts', { until: '2026-01-01' }, ['until']],
  ['a rule that is none', { rule: 'FREQ=SOMETIMES' }, ['rule']],
  ['a part that is none', { rule: 'FREQ=DAILY;EVERY=2' }, ['rule']],
  ['two ends', { rule: 'FREQ=DAILY;COUNT=2;UNTIL=20260302T080000Z' }, ['rule']],
  [
    'a blackout that ends before it starts',
    { blackout: [{ start: '2026-03-02T08:00', end: '2026-03-01T08:00' }] },
    ['blackout/0/end'],
  ],
  ['an exception that is none', { except: ['soon'] }, ['except/0']],
  ['more than anybody could plan', { rule: 'FREQ=SECONDLY' }, ['rule']],
  ['what never comes, looked for each second', { rule: 'FREQ=SECONDLY;BYMONTH=2;BYMONTHDAY=30' }, ['rule']],
  [
    'a blackout that begins each second',
    { blackout: [{ rule: 'FREQ=SECONDLY', start: '2026-03-01T08:00', end: '2026-03-01T09:00' }] },
    ['blackout/0/rule'],
  ],
])('%s is bad input, with its place', (_, input, expected) => expect(faults(input)).toEqual(expected))

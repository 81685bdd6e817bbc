import { followingStarts } from './following'

const HOUR_MS = 3_600_000
const night = { id: 'night@1', rotation: 'night', endAt: '2026-11-28T23:00:00.000Z' }
const told = (starts: Parameters<typeof followingStarts>[0], followers: [string, string][]) =>
  followingStarts(
    starts,
    followers.map(([rotation, follows]) => ({ rotation, follows, p50Ms: HOUR_MS })),
  ).map(({ rotation, at, behind }) => `${rotation} ${at.slice(11, 16)} behind ${behind.id}`)

test.each<[string, [string, string][], string[]]>([
  ['nothing follows', [], []],
  ['one', [['pay', 'night']], ['pay 23:00 behind night@1']],
  [
    'one behind another',
    [
      ['sum', 'pay'],
      ['pay', 'night'],
    ],
    ['pay 23:00 behind night@1', 'sum 00:00 behind pay@2026-11-28T23:00:00.000Z'],
  ],
  [
    'two behind the same',
    [
      ['pay', 'night'],
      ['sum', 'night'],
    ],
    ['pay 23:00 behind night@1', 'sum 23:00 behind night@1'],
  ],
  [
    'a circle ends where it began',
    [
      ['pay', 'night'],
      ['night', 'pay'],
    ],
    ['pay 23:00 behind night@1'],
  ],
  ['one that follows itself', [['night', 'night']], []],
])('%s', (_, followers, starts) => expect(told([night], followers)).toEqual(starts))

test('each start has its own follower', () =>
  expect(
    told([night, { ...night, id: 'night@2', endAt: '2026-11-29T23:00:00.000Z' }], [['pay', 'night']]),
  ).toHaveLength(2))

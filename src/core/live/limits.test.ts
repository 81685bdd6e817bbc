import { placeForLive, STANDARD_LIVE_LIMITS, type LivePlace } from '.'

const SHORE = { pool: 'Shore', free: 3 }
const QUAY = { pool: 'Quay', free: 1 }
const limits = (pools: Record<string, number>, all = 12) => ({ all, pools })

test.each<[string, Parameters<typeof placeForLive>, LivePlace]>([
  ['no pool has a limit', [STANDARD_LIVE_LIMITS, { Shore: 11 }, [SHORE, QUAY]], { is: 'anywhere' }],
  [
    'another pool has one, which does not serve it',
    [limits({ Dock: 0 }), {}, [SHORE, QUAY]],
    { is: 'anywhere' },
  ],
  ['one is full', [limits({ Shore: 2 }), { Shore: 2 }, [SHORE, QUAY]], { is: 'in', pool: 'Quay' }],
  ['none is full: where most is free', [limits({ Quay: 5 }), {}, [QUAY, SHORE]], { is: 'in', pool: 'Shore' }],
  [
    'as many are free: the first by name',
    [limits({ Quay: 5 }), {}, [SHORE, { pool: 'Quay', free: 3 }]],
    { is: 'in', pool: 'Quay' },
  ],
  [
    'all are full',
    [limits({ Shore: 2, Quay: 0 }), { Shore: 2 }, [SHORE, QUAY]],
    {
      is: 'full',
      why: 'No pool that serves it may have another live session (at most: Shore 2, Quay 0).',
    },
  ],
  [
    'all there may be go on',
    [limits({ Shore: 9 }, 3), { Dock: 2, '': 1 }, [SHORE]],
    { is: 'full', why: '3 live sessions go on, which is all there may be at once.' },
  ],
  ['nothing serves it', [limits({ Shore: 1 }), {}, []], { is: 'anywhere' }],
])('where %s', (_, given, expected) => expect(placeForLive(...given)).toEqual(expected))

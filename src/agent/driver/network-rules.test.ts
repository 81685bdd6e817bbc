import { NetworkRules } from './network-rules'

const FARES = 'http://127.0.0.1:9/booking/api/fares?from=Skerrow'
const made = (...changes: Parameters<NetworkRules['change']>[0][]) => {
  const rules = new NetworkRules()
  for (const change of changes) rules.change(change)
  return rules
}

test.each<[string, Parameters<typeof made>, object]>([
  ['nothing was said', [], { do: 'pass' }],
  ['another address', [{ does: 'fail', requests: '*/api/sailings*' }], { do: 'pass' }],
  ['whole addresses are compared', [{ does: 'fail', requests: '/api/fares' }], { do: 'pass' }],
  ['its address', [{ does: 'fail', requests: '*/api/fares*' }], { do: 'fail' }],
  ['it is slow', [{ does: 'delay', requests: '*', delayMs: 1500 }], { do: 'delay', ms: 1500 }],
  [
    'it is never slower than that',
    [{ does: 'delay', requests: '*', delayMs: 9e9 }],
    { do: 'delay', ms: 120_000 },
  ],
  [
    'it is answered: JSON is known by its beginning',
    [{ does: 'answer', requests: '*/fares*', status: 503, body: ' {"late": true}' }],
    { do: 'answer', status: 503, type: 'application/json', body: ' {"late": true}' },
  ],
  [
    'the newest rule goes first',
    [
      { does: 'fail', requests: '*' },
      { does: 'answer', requests: '*/fares*' },
    ],
    { do: 'answer', status: 200, type: 'text/plain', body: '' },
  ],
  ['it is away', [{ does: 'answer', requests: '*' }, { does: 'offline' }], { do: 'fail' }],
  ['it is there again', [{ does: 'offline' }, { does: 'online' }], { do: 'pass' }],
  ['as usual', [{ does: 'fail', requests: '*' }, { does: 'offline' }, { does: 'usual' }], { do: 'pass' }],
])('%s', (_, changes, verdict) => expect(made(...changes).of(FARES)).toEqual(verdict))

test('a loop that adds rules for ever fills no memory', () => {
  const rules = new NetworkRules()
  rules.change({ does: 'fail', requests: '*' })
  for (let i = 0; i < 1000; i++) rules.change({ does: 'fail', requests: `*${i}` })
  expect(rules.of(FARES)).toEqual({ do: 'pass' }) // the first one has gone
  expect(rules.isUsual).toBe(false)
})

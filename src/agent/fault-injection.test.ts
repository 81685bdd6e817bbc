import { Held } from './held'
import { orderOf, StopOrder } from './interpreter/stop-order'
import { FaultInjection } from './fault-injection'

test('what it was told holds for as long as it was told, and is over when it is not told any more', () => {
  let now = 0
  const faults = new FaultInjection(() => now)
  faults.set([
    { what: 'lost', forMs: 100 },
    { what: 'slow', factor: 4, environment: 'a', forMs: 500 },
  ])
  expect([
    faults.isLost,
    faults.factor('slow', 'a'),
    faults.factor('slow', 'b'),
    faults.factor('upset', 'a'),
  ]).toEqual([true, 4, 1, 1])
  now = 200
  expect([faults.isLost, faults.factor('slow', 'a')]).toEqual([false, 4])
  faults.set([])
  expect(faults.factor('slow', 'a')).toBe(1)
})
test('everywhere and in one place add up', () => {
  const faults = new FaultInjection(() => 0)
  faults.set([
    { what: 'slow', factor: 2, forMs: 9 },
    { what: 'slow', factor: 3, environment: 'a', forMs: 9 },
  ])
  expect([faults.factor('slow', 'a'), faults.factor('slow', 'b')]).toEqual([6, 2])
})
test('who waits until it is found again ends when the agent does', async () => {
  const faults = new FaultInjection()
  faults.set([{ what: 'lost', forMs: 60_000 }])
  await faults.untilFound(AbortSignal.abort())
  expect(faults.isLost).toBe(true)
})

describe('what a heartbeat says of what is in hand', () => {
  const a = { attemptId: 'a' }
  test('to pause and to watch hold for as long as they are said', () => {
    const held = new Held(1)
    held.obey([
      { ...a, command: 'pause' },
      { ...a, command: 'watch' },
    ])
    expect([held.gate.isClosed, held.watched]).toEqual([true, true])
    held.obey([])
    expect([held.gate.isClosed, held.watched]).toEqual([false, false])
  })
  test.each([
    {
      why: 'cancelled',
      command: { ...a, command: 'cancel' as const, undo: true },
      order: new StopOrder(true),
      dropped: false,
    },
    {
      why: 'cancelled without undo',
      command: { ...a, command: 'cancel' as const, undo: false },
      order: new StopOrder(false),
      dropped: false,
    },
    {
      why: 'another role did not pass',
      command: { ...a, command: 'end' as const, because: 'crew: it is 3' },
      order: new StopOrder(true, 'crew: it is 3'),
      dropped: false,
    },
    {
      why: 'not ours any more',
      command: { ...a, command: 'drop' as const },
      order: new StopOrder(true),
      dropped: true,
    },
  ])('$why', ({ command, order, dropped }) => {
    const held = new Held(1)
    held.obey([command])
    expect([held.cancel.signal.aborted, held.drop.signal.aborted]).toEqual([true, dropped])
    expect(orderOf(held.cancel.signal)).toEqual(order)
  })
  test('while its result is on the way, that it is not ours any more is old news', () => {
    const held = new Held(1)
    held.finishing = true
    held.obey([{ ...a, command: 'drop' }])
    expect(held.drop.signal.aborted).toBe(false)
  })
  test('a stop without a reason undoes', () =>
    expect(orderOf(AbortSignal.abort())).toEqual(new StopOrder(true)))
})

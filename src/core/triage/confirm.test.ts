import fc from 'fast-check'
import { confirmationWords, confirmedBy, timesToConfirm, type ConfirmCounts, type ConfirmVerdict } from '.'

test.each([
  ['each time of three', { failed: 3, of: 3 }, 2],
  ['the only time', { failed: 1, of: 1 }, 3],
  ['every other time', { failed: 5, of: 10 }, 5],
  ['once in ten', { failed: 1, of: 10 }, 17],
  ['once in a hundred: never surely', { failed: 1, of: 100 }, 50],
])('it failed %s', (_, before, times) => expect(timesToConfirm(before).times).toBe(times))

test('how sure that makes is told, also where it is less than was wanted', () => {
  expect(timesToConfirm({ failed: 1, of: 10 }).confidence).toBeGreaterThanOrEqual(0.95)
  expect(timesToConfirm({ failed: 1, of: 1000 }).confidence).toBeLessThan(0.2)
  expect(timesToConfirm({ failed: 3, of: 3 }, 0.999).times).toBeGreaterThan(2)
})

test('within bounds, never surer than sure, and more for what failed less often', () =>
  fc.assert(
    fc.property(fc.nat({ max: 500 }), fc.nat({ max: 500 }), (failed, passed) => {
      const one = timesToConfirm({ failed, of: failed + passed })
      expect(one.times).toBeGreaterThanOrEqual(2)
      expect(one.times).toBeLessThanOrEqual(50)
      expect(one.confidence).toBeGreaterThan(0)
      expect(one.confidence).toBeLessThanOrEqual(1)
      const seldom = timesToConfirm({ failed, of: failed + passed + 10 })
      expect(seldom.times).toBeGreaterThanOrEqual(one.times)
    }),
  ))

test.each<[string, Partial<ConfirmCounts>, ConfirmVerdict]>([
  ['all passed', { passed: 3 }, 'close'],
  ['one failed, though more are open', { passed: 2, failed: 1, open: 5 }, 'reopen'],
  ['some are open', { passed: 2, open: 1 }, 'going-on'],
  ['an error says nothing', { passed: 2, other: 1 }, 'unclear'],
  ['nothing came of it', {}, 'unclear'],
])('%s', (_, counts, verdict) =>
  expect(confirmedBy({ passed: 0, failed: 0, other: 0, open: 0, ...counts })).toBe(verdict),
)

test.each<[ConfirmVerdict, ConfirmCounts, string, 'open' | 'closed' | null]>([
  [
    'close',
    { passed: 3, failed: 0, other: 0, open: 0 },
    'Mended on build 2.0: it was tried 3 times where it had failed, and passed each time. /runs/4',
    'closed',
  ],
  [
    'reopen',
    { passed: 2, failed: 1, other: 0, open: 0 },
    'Still there on build 2.0: it was tried 3 times where it had failed, and failed once. /runs/4',
    'open',
  ],
  [
    'unclear',
    { passed: 0, failed: 0, other: 1, open: 0 },
    'Tried on build 2.0 once: 0 passed, 0 failed, 1 said nothing. /runs/4',
    null,
  ],
])('to the tracker %s is said in words, with what it is to become', (verdict, counts, text, state) =>
  expect(confirmationWords({ build: '2.0', counts, verdict, address: '/runs/4' })).toEqual({ text, state }),
)

/** Dispatch, `recover` and the rule itself say the same of every failure: exhaustively for small numbers. */
import { FAILURE_KINDS } from '../model'
import { decide } from './outcomes'
import { recover } from './recover'
import { retryBarredBy, type Retries } from './retrying'

const KINDS = FAILURE_KINDS.filter((kind) => kind !== 'agent') // a lost agent is nobody's retry
const LIMITS: Retries[] = [0, 1, 2].flatMap((most) => [
  { case: most },
  { case: most, on: ['check'] },
  { case: most, on: ['page', 'time-limit'] },
  { case: most, on: [] },
])

test('the rule: kinds that are named, and as often as is said', () => {
  expect(retryBarredBy(0, 'check', { case: 1 })).toBeUndefined()
  expect(retryBarredBy(1, 'check', { case: 1 })).toBe('number')
  expect(retryBarredBy(0, 'check', { case: 1, on: ['page'] })).toBe('kind')
  expect(retryBarredBy(0, undefined, { case: 1, on: ['page'] })).toBeUndefined() // the kind is not known
  expect(retryBarredBy(0, 'page', { case: 0, on: ['page'] })).toBe('number')
})

test('dispatch and recover decide as it does', () => {
  for (const limits of LIMITS)
    for (const kind of KINDS)
      for (let tries = 0; tries <= 3; tries++) {
        const again = retryBarredBy(tries, kind, limits) === undefined
        const failed = { outcome: 'failed', kind } as const
        const before = Array.from({ length: tries }, () => failed)
        expect(decide(failed, before, limits).next === 'again').toBe(again)
        const { decision } = recover({
          policy: { rules: [], retries: limits },
          failure: { kind, message: 'it is 3' },
          history: before.map(() => ({ rule: null, result: 'worked' })),
        })
        expect(decision === 'retry').toBe(again)
      }
})

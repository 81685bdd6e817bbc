import fc from 'fast-check'
import { caseRunTime, filmOf, type TimedAttempt } from './film'
import { outlineLine } from './testing/lines'

const words = (verb: string) => ({ verb, object: 'x', detail: '' })

test('what recovery rules did and what was waited for are spans; a short wait is none', () => {
  const { spans } = filmOf(
    [
      outlineLine('main.0', words('wait'), { startMs: 0, ms: 900 }),
      outlineLine('main.1', words('wait'), { startMs: 900, ms: 20 }),
      outlineLine('main.2', words('click'), { startMs: 920, ms: 5000 }),
      outlineLine('main.2!1', words('recovery'), { startMs: 6000, ms: 400, recovery: 'branch' }),
      outlineLine('main.3', words('meet'), { startMs: 6400, ms: 700 }),
      outlineLine('main.4', words('wait')),
    ],
    8000,
  )
  expect(spans.map(({ path, kind, fromMs, toMs }) => [path, kind, fromMs, toMs])).toEqual([
    ['main.0', 'wait', 0, 900],
    ['main.2!1', 'recovery', 6000, 6400],
    ['main.3', 'wait', 6400, 7100],
  ])
})

const attempt = (id: string, startMs: number | null, ms: number, role = ''): TimedAttempt => ({
  id,
  startMs,
  ms,
  role,
})

test('attempts stand one after the other, roles beside each other', () => {
  expect(caseRunTime([attempt('a', -3000, 2000), attempt('b', 0, 1000)])).toEqual({
    fromMs: -3000,
    toMs: 1000,
    lanes: [
      {
        role: '',
        bars: [
          { id: 'a', from: 0, share: 0.5 },
          { id: 'b', from: 0.75, share: 0.25 },
        ],
      },
    ],
  })
  const joint = caseRunTime([attempt('p', 500, 500, 'passenger'), attempt('c', 0, 1000, 'crew')])!
  expect(joint.lanes.map(({ role, bars }) => [role, bars[0]!.from])).toEqual([
    ['crew', 0],
    ['passenger', 0.5],
  ])
  expect(caseRunTime([attempt('a', 0, 9), attempt('b', null, 0)])).toBeUndefined()
})

test('every bar is within the line, whatever the clocks said', () => {
  const one = fc.record({
    id: fc.uuid(),
    role: fc.constantFrom('', 'crew'),
    startMs: fc.option(fc.integer({ min: -1e9, max: 1e9 })),
    ms: fc.integer({ min: 0, max: 1e7 }),
  })
  fc.assert(
    fc.property(fc.array(one, { maxLength: 8 }), (attempts) => {
      const time = caseRunTime(attempts)
      for (const { from, share } of time?.lanes.flatMap(({ bars }) => bars) ?? []) {
        expect(from).toBeGreaterThanOrEqual(0)
        expect(from + share).toBeLessThanOrEqual(1 + 1e-9)
      }
    }),
  )
})

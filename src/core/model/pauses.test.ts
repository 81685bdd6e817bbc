import { parseDefinition } from './files'
import { NO_PAUSES, pausedMs, pausesOf } from './pauses'
import type { Routine, TestCase } from './types'

const stepsOf = (text: string) =>
  (parseDefinition('x.case.yaml', `case: x\ntitle: X\nsteps:\n${text}`).definition as TestCase).steps
const routines = (given: Record<string, string>) => (key: string) =>
  given[key] === undefined
    ? undefined
    : (
        parseDefinition(`${key}.routine.yaml`, `routine: ${key}\ntitle: R\nsteps:\n${given[key]}`)
          .definition as Routine
      ).steps
const none = routines({})

test('each step waits before it; what changes the page waits after it', () => {
  expect(
    pausesOf(stepsOf('  - open: booking:/\n  - click: { on: { text: Go } }\n  - note: seen\n'), none),
  ).toEqual({ between: 3, settle: 2 })
  expect(pausesOf([], none)).toEqual(NO_PAUSES)
})
test('inside blocks and routines too; a routine that is not there, or uses itself, is its call alone', () => {
  const steps = stepsOf(
    '  - block: Twice\n    steps: [{ click: { on: { text: A } } }]\n  - use: in\n  - use: gone\n',
  )
  expect(pausesOf(steps, routines({ in: '  - open: booking:/\n  - use: in\n' }))).toEqual({
    between: 6,
    settle: 2,
  })
})
test('the time of them, by what the rotation asks for', () => {
  expect(pausedMs({ between: 3, settle: 2 }, { settleMs: 300, betweenMs: 1000 })).toBe(3600)
  expect([
    pausedMs(undefined, { settleMs: 300 }),
    pausedMs({ between: 3, settle: 2 }, undefined),
    pausedMs({ between: 3, settle: 2 }, { settleMs: null }),
  ]).toEqual([0, 0, 0])
})

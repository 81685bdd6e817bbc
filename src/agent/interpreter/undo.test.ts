import fc from 'fast-check'
import { comparePaths } from '@/core/execution'
import type { Routine, Step } from '@/core/model'
import { seen, attempt, click } from './testing/scripted'

test('undo runs in reverse, whatever happened, and what was never read needs no undo', async () => {
  const undo = [click('First'), click('${reference}'), click('Broken'), click('Last')]
  const { result, done, ended } = await attempt(
    [click('Gone')],
    { First: seen(''), Last: seen('') },
    { testCase: { undo } },
  )
  expect(result).toMatchObject({ outcome: 'errored', failure: { path: 'main.0' } })
  expect(done).toEqual(['click Gone', 'click Last', 'click Broken', 'click First', 'close'])
  expect(ended).toContain('undo.1 skipped: nothing to undo: ${reference} was never read')
})

test('the undo stack: routines push theirs, and it runs from the top, the entry state last', async () => {
  const routine = (key: string, undo: Step[], steps: Step[] = []): Routine => ({
    kind: 'routine',
    key,
    title: key,
    parameters: { who: '' },
    steps,
    undo,
  })
  const routines = [
    routine('in', [click('Sign out')]),
    routine(
      'book',
      [click('Unbook ${ref}'), click('Bye ${who}')],
      [{ verb: 'read', of: { testId: 'ref' }, as: 'ref', handoff: false }],
    ),
    routine('half', [click('Half')], [click('Gone')]),
  ]
  const use = (key: string, who = ''): Step => ({ verb: 'use', routine: key, with: { who } })
  const { done, events } = await attempt(
    [use('book', 'Isla'), use('half')],
    { ref: seen('FS-1') },
    { testCase: { entry: 'in', undo: [click('Own 1'), click('Own 2')] }, work: { routines } },
  )
  expect(done).toEqual([
    'click Gone',
    'click Half',
    'click Bye Isla',
    'click Unbook FS-1',
    'click Own 2',
    'click Own 1',
    'click Sign out',
    'close',
  ])
  const paths = events.flatMap((event) =>
    event.type === 'step-started' && event.path.startsWith('undo') ? [event.path] : [],
  )
  expect(paths).toEqual([...paths].sort(comparePaths))
})

test('property: whatever fails, each undo step that was pushed runs once, in reverse', async () => {
  const part = fc.record({ fails: fc.boolean(), undo: fc.nat(3) })
  await fc.assert(
    fc.asyncProperty(fc.array(part, { maxLength: 5 }), fc.nat(3), async (given, own) => {
      const name = (i: number) => Array.from({ length: given[i]!.undo }, (_, j) => `u${i}.${j}`)
      const routines = given.map(({ fails }, i): Routine => ({
        kind: 'routine',
        key: `r${i}`,
        title: '',
        parameters: {},
        steps: [click(fails ? 'Gone' : 'Go')],
        undo: name(i).map(click),
      }))
      const ownNames = Array.from({ length: own }, (_, j) => `own.${j}`)
      const { done } = await attempt(
        given.map((_, i) => ({ verb: 'use', routine: `r${i}`, with: {} })),
        { Go: seen('') },
        { testCase: { undo: ownNames.map(click) }, work: { routines } },
      )
      const reached = given.findIndex(({ fails }) => fails)
      const pushed = [
        ...ownNames,
        ...given.slice(0, reached < 0 ? undefined : reached + 1).flatMap((_, i) => name(i)),
      ]
      expect(done.filter((what) => /click (u|own)/.test(what))).toEqual(
        pushed.reverse().map((what) => `click ${what}`),
      )
    }),
    { numRuns: 60 },
  )
})

test('an entry state that is not reached is a matter of data, with the reason', async () => {
  const routines = [
    {
      kind: 'routine' as const,
      key: 'signed-out',
      title: '',
      parameters: {},
      undo: [],
      steps: [click('Sign out')],
    },
  ]
  const { result, done } = await attempt(
    [click('Go')],
    { Go: seen('') },
    { testCase: { entry: 'signed-out' }, work: { routines } },
  )
  expect(result.failure).toMatchObject({
    kind: 'data',
    path: 'entry.0.0',
    message: 'The entry state “signed-out” was not reached: Sign out is not on the page',
  })
  expect(done).not.toContain('click Go')
})

test('the limit of the case ends it, undo still runs', async () => {
  const { result, done } = await attempt(
    [{ verb: 'wait', state: 'visible', timeMs: 90_000 }, click('Go')],
    { Go: seen(''), Tidy: seen('') },
    { testCase: { undo: [click('Tidy')] } },
  )
  expect(result.failure).toMatchObject({ kind: 'time-limit', message: 'The case took longer than 1 min' })
  expect(done).toEqual(['click Tidy', 'close'])
})

test('stopped: nothing more is done but undo, and the outcome is cancelled', async () => {
  const stop = new AbortController()
  stop.abort()
  const { result, done } = await attempt(
    [click('Go')],
    { Go: seen(''), Tidy: seen('') },
    { testCase: { undo: [click('Tidy')] }, signal: stop.signal },
  )
  expect(result.outcome).toBe('cancelled')
  expect(done).toEqual(['click Tidy', 'close'])
})

import type { Step } from '@/core/model'
import type { Look } from '../driver/port'
import { outgoingPolicyOf } from '@/node/outgoing'
import { api, attempt, check, click, seen, withApi } from './testing/scripted'

withApi()

test('carries out steps in order, numbers its events without a gap, and closes the browser', async () => {
  const { result, done, events } = await attempt(
    [{ verb: 'open', address: 'app:/start' }, click('Go'), check('total', '5')],
    { Go: seen(''), total: seen(' 5 ') },
  )
  expect(result.outcome).toBe('passed')
  expect(done).toEqual(['open http://app/start', 'click Go', 'close'])
  expect(events.map(({ no }) => no)).toEqual(events.map((_, i) => i + 1))
})

test('a check that does not hold fails with expected and actual, after its limit', async () => {
  const { result } = await attempt([check('total', '5'), click('Never')], { total: seen('6') })
  expect(result).toMatchObject({
    outcome: 'failed',
    failure: { kind: 'check', expected: '5', actual: '6', path: 'main.0' },
  })
  expect(result.ms).toBeGreaterThanOrEqual(5000)
})

test('a call does not ask the product itself, unless its administrator allows it', async () => {
  const step: Step = { verb: 'call', method: 'GET', url: 'api:/', read: {}, handoff: false }
  const own = await attempt([step], {}, { outgoing: outgoingPolicyOf(undefined, [api]) })
  expect(own.result.failure).toMatchObject({
    kind: 'data',
    message: expect.stringContaining('belongs to this product itself') as string,
  })
  const allowed = await attempt([step], {}, { outgoing: outgoingPolicyOf(new URL(api).host, [api]) })
  expect(allowed.result.outcome).toBe('passed')
})

test.each(['app:@elsewhere.invalid/', 'app:.elsewhere.invalid/', 'app:1234/'])(
  '“%s” does not lead away from the application',
  async (address) => {
    const { result, done } = await attempt([{ verb: 'open', address }])
    expect(result.failure).toMatchObject({
      kind: 'data',
      message: expect.stringContaining('leads away') as string,
    })
    expect(done).toEqual(['close'])
  },
)

test('a soft check is told at the end, and the case goes on', async () => {
  const { result, done } = await attempt([check('total', '5', true), click('Go')], {
    total: seen('6'),
    Go: seen(''),
  })
  expect(result).toMatchObject({ outcome: 'failed', failure: { path: 'main.0' } })
  expect(done).toContain('click Go')
})

test.each<[string, Step, Record<string, Look>, object]>([
  ['not there', check('total', '5'), {}, { kind: 'check', message: 'total is not on the page' }],
  [
    'there twice',
    check('total', '5'),
    { total: seen('', { count: 2 }) },
    { kind: 'check', message: 'total: 2 elements match, one was expected' },
  ],
  ['a missing value', click('${gone}'), {}, { kind: 'data', message: '${gone} is not known here' }],
  [
    'a missing routine',
    { verb: 'use', routine: 'gone', with: {} },
    {},
    { kind: 'data', message: 'the routine “gone” is not there' },
  ],
  [
    'a missing application',
    { verb: 'open', address: 'gone:/' },
    {},
    { kind: 'data', message: 'there is no application “gone”' },
  ],
  [
    'a wait in vain',
    { verb: 'wait', for: { text: 'Ready' }, state: 'visible' },
    {},
    { kind: 'target', message: 'waited 5.0 s, it is not visible' },
  ],
  [
    'an address',
    { verb: 'check', subject: 'url', matcher: { contains: '/start' }, soft: false },
    {},
    { kind: 'check', actual: 'http://app/done' },
  ],
])('errors with its kind and place: %s', async (_, step, page, failure) => {
  const { result } = await attempt([step], page)
  expect(result).toMatchObject({ failure: { path: 'main.0', ...failure } })
})

test('blocks, ifs and repeats nest, and the innermost step is the failing one', async () => {
  const { result, ended } = await attempt(
    [
      {
        verb: 'if',
        condition: { visible: { text: 'Shown' } },
        steps: [click('Shown')],
        otherwise: [click('Not')],
      },
      { verb: 'if', condition: { hidden: { text: 'Shown' } }, steps: [click('Not')], otherwise: [] },
      { verb: 'repeat', times: 2, steps: [click('Shown')] },
      { verb: 'block', title: 'B', steps: [click('Gone')] },
    ],
    { Shown: seen('') },
  )
  expect(ended).toEqual([
    'main.0.0 passed',
    'main.0 passed: it is so',
    'main.1 passed: it is not so',
    'main.2.0.0 passed',
    'main.2.1.0 passed',
    'main.2 passed: 2 times',
    'main.3.0 errored',
    'main.3 errored',
  ])
  expect(result.failure).toMatchObject({ path: 'main.3.0', kind: 'target' })
})

test('branches and loops go by values, and a loop that never gets there says so', async () => {
  const { ended } = await attempt(
    [
      { verb: 'read', of: { text: 'Fare' }, as: 'fare', pick: '(\\d+) crowns', handoff: false },
      {
        verb: 'if',
        condition: { value: '${fare}', is: { atLeast: 20 } },
        steps: [click('Fare')],
        otherwise: [],
      },
      { verb: 'repeat', until: { value: '${fare}', is: { equals: '24' } }, steps: [click('Fare')] },
      { verb: 'repeat', until: { visible: { text: 'Done' } }, times: 2, steps: [click('Fare')] },
    ],
    { Fare: seen('24 crowns') },
  )
  expect(ended).toEqual([
    expect.stringMatching(/^main\.0 passed/),
    'main.1.0 passed',
    'main.1 passed: it is so',
    'main.2 passed: 0 times',
    'main.3.0.0 passed',
    'main.3.1.0 passed',
    'main.3 failed',
  ])
})

test('a loop that waits for its condition does its steps no second time meanwhile', async () => {
  let looks = 0
  const page = {
    Go: seen(''),
    get Done() {
      return seen('', ++looks < 5 ? { count: 0, states: ['hidden'] } : {})
    },
  }
  const until = { visible: { text: 'Done' } }
  const { done } = await attempt([{ verb: 'repeat', until, waitMs: 3000, steps: [click('Go')] }], page)
  expect(done).toEqual(['click Go', 'close'])
})

test('a loop that never ends is ended', async () =>
  expect(
    (await attempt([{ verb: 'repeat', whileVisible: { text: 'X' }, steps: [click('X')] }], { X: seen('') }))
      .result.failure,
  ).toMatchObject({ kind: 'time-limit', message: 'still so after 200 times' }))

test('a routine that uses itself is ended', async () => {
  const { result } = await attempt(
    [{ verb: 'use', routine: 'loop', with: {} }],
    {},
    {
      work: {
        routines: [
          {
            kind: 'routine',
            key: 'loop',
            title: '',
            parameters: {},
            undo: [],
            steps: [{ verb: 'use', routine: 'loop', with: {} }],
          },
        ],
      },
    },
  )
  expect(result.failure).toMatchObject({
    kind: 'data',
    message: expect.stringContaining('nested deeper') as string,
  })
})

test('a routine sees its parameters, gives back what it read, and keeps its own names to itself', async () => {
  const routine = {
    kind: 'routine' as const,
    key: 'r',
    title: '',
    parameters: { port: 'Skerrow', time: '09:40' },
    undo: [],
    steps: [
      click('${port} ${time}'),
      { verb: 'read' as const, of: { testId: 'ref' }, as: 'reference', handoff: false },
    ],
  }
  const { result, done } = await attempt(
    [{ verb: 'use', routine: 'r', with: { port: '${row.port}' } }, click('${reference} ${port}')],
    { 'Tolva 09:40': seen(''), ref: seen(' FS-7 '), 'FS-7 outer': seen('') },
    { work: { routines: [routine], row: { port: 'Tolva' }, parameters: { port: 'outer' } } },
  )
  expect(result.outcome).toBe('passed')
  expect(done).toEqual(['click Tolva 09:40', 'click FS-7 outer', 'close'])
})

test('a step that is switched off is passed over', async () =>
  expect((await attempt([{ ...click('Gone'), off: true }])).ended).toEqual(['main.0 skipped: switched off']))

test('when another way of a target held, the log says so and what to mend', async () => {
  expect(
    (await attempt([{ verb: 'click', on: { text: 'Go', testId: 'Go' } }], { Go: seen('') })).ended,
  ).toEqual(['main.0 passed'])
  expect(
    (
      await attempt(
        [check('x', '5', false), { verb: 'read', of: { testId: 'old', text: 'x' }, as: 'a', handoff: false }],
        { x: seen('5'), old: seen('5', { found: { way: 'text' } }) },
      )
    ).ended[1],
  ).toBe('main.1 passed: found by text; testId finds it no more: mend “testId: old” or take it out')
})

test('every verb reaches the browser', async () => {
  const { result, done } = await attempt(
    [
      { verb: 'hover', on: { text: 'Menu' } },
      { verb: 'drag', from: { text: 'Card' }, to: { text: 'Lane' } },
      { verb: 'upload', in: { text: 'File' }, name: 'list.csv', text: 'a' },
      { verb: 'scroll', by: 400 },
      { verb: 'scroll', by: 400, in: { text: 'Lane' } },
      { verb: 'scroll', to: { text: 'Foot' } },
      { verb: 'scroll', until: { text: 'Foot' } },
      { verb: 'go', to: 'back' },
      { verb: 'click', on: { text: 'Menu' }, times: 2, button: 'right', with: ['Shift'], holdMs: 300 },
      { verb: 'choose', in: { text: 'Lane' }, value: 'a', also: ['b'] },
      { verb: 'window', to: 'newest' },
      { verb: 'window', to: 'at', text: 'app/' },
      { verb: 'window', to: 'titled', text: 'Boa' },
      { verb: 'window', to: 'first' },
      { verb: 'window', to: 'close' },
      { verb: 'dialog', answer: 'accept', text: 'yes' },
      { verb: 'note', text: 'only said' },
      { verb: 'check', subject: 'title', matcher: { equals: 'Done' }, soft: false },
      { verb: 'check', subject: 'download', matcher: { startsWith: 'card' }, soft: false },
      { verb: 'check', subject: 'dialog', matcher: { contains: 'full' }, soft: false },
      {
        verb: 'check',
        of: { text: 'Menu' },
        subject: 'attribute',
        attribute: 'href',
        matcher: { equals: 'href of Menu' },
        soft: false,
      },
    ],
    { Menu: seen(''), Lane: seen(''), File: seen(''), Foot: seen('') },
  )
  expect(result).toMatchObject({ outcome: 'passed' })
  expect(done).toEqual([
    'hover Menu',
    'drag Card to Lane',
    'upload list.csv into File',
    'scroll  by 400',
    'scroll Lane by 400',
    'scroll to Foot',
    'scroll to Foot',
    'go back',
    'click 2 right Shift 300 Menu',
    'choose a b in Lane',
    'window 1',
    'window 1',
    'window 0',
    'window 0',
    'close window',
    'dialog true yes',
    'close',
  ])
})

test('a list that ends before something is there, a window that is none: it says so', async () => {
  const scrolled = await attempt([{ verb: 'scroll', until: { text: 'Foot' }, in: { text: 'Lane' } }])
  expect(scrolled.result).toMatchObject({ failure: { kind: 'target', message: '“Foot” is not on the page' } })
  const gone = await attempt([{ verb: 'window', to: 'titled', text: 'Fares', limitMs: 300 }])
  expect(gone.result.failure?.message).toBe(
    'there is no such window; there is: “Board” (http://app/), “Card” (http://app/card)',
  )
})

test('an element that is not there is a check that did not hold, and a soft one goes on', async () => {
  const { result, ended } = await attempt([check('total', '24', true), click('Menu')], { Menu: seen('') })
  expect(result).toMatchObject({
    outcome: 'failed',
    failure: { kind: 'check', message: 'total is not on the page', expected: '24' },
  })
  expect(ended[1]).toBe('main.1 passed')
})

test.each<[string, Step, string]>([
  ['meet', { verb: 'meet', point: 'boarding-open' }, 'for joint cases'],
  ['do', { verb: 'do', words: 'Look at the deck' }, 'is for a person'],
])('what later versions bring is said, not passed over: %s', async (_, step, says) =>
  expect((await attempt([step], { Deck: seen('') })).result.failure).toMatchObject({
    kind: 'script',
    message: expect.stringContaining(says) as string,
  }),
)

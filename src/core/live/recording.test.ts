import { describeStep } from '../model'
import { stepForm } from '../model/write'
import { stepsOfRecording, type ElementFacts, type RecordedEvent } from '.'

const field = (label: string, more: Partial<ElementFacts> = {}): ElementFacts => ({
  tag: 'input',
  type: 'text',
  role: 'textbox',
  name: label,
  label,
  counts: { role: 1, label: 1 },
  ...more,
})
const button = (name: string, more: Partial<ElementFacts> = {}): ElementFacts => ({
  tag: 'button',
  role: 'button',
  name,
  text: name,
  counts: { role: 1, text: 1 },
  ...more,
})
const tick = (label: string) => field(label, { type: 'checkbox', role: 'checkbox' })
const list = (label: string) => field(label, { tag: 'select', role: 'combobox' })

let clock = 0
const next = () => (clock += 100)
type Click = Partial<Extract<RecordedEvent, { kind: 'click' }>>
const click = (element: ElementFacts, more: Click = {}): RecordedEvent => ({
  kind: 'click',
  element,
  button: 'left',
  times: 1,
  with: [],
  byKey: false,
  atMs: next(),
  ...more,
})
const input = (element: ElementFacts, value: string): RecordedEvent => ({
  kind: 'input',
  element,
  value,
  atMs: next(),
})
const key = (name: string, element?: ElementFacts, held: 'Control'[] = []): RecordedEvent => ({
  kind: 'key',
  key: name,
  with: held,
  atMs: next(),
  ...(element && { element }),
})
const choice = (element: ElementFacts, ...values: string[]): RecordedEvent => ({
  kind: 'choice',
  element,
  values,
  atMs: next(),
})
const ticked = (element: ElementFacts, on: boolean): RecordedEvent => ({
  kind: 'tick',
  element,
  on,
  atMs: next(),
})

const said = (...events: RecordedEvent[]) =>
  stepsOfRecording(events).map(({ step }) => {
    const { verb, object, detail } = describeStep(step)
    return [verb, object, detail].filter(Boolean).join(' ')
  })

const NAME = field('Name of the first passenger')
const TO = list('To')
const RETURN = tick('Return crossing')
const CARD = field('Boarding card', { type: 'file' })
const GO = button('Find sailings')
const PORT = field('Port', { suggests: true, role: 'combobox' })

test.each<[string, RecordedEvent[], string[]]>([
  [
    'typing is one step',
    [input(NAME, 'E'), input(NAME, 'Ed'), input(NAME, 'Edda')],
    ['type Name of the first passenger Edda'],
  ],
  [
    'corrections are folded',
    [input(NAME, 'Edd'), input(NAME, 'Ed'), input(NAME, ''), input(NAME, 'Mirela')],
    ['type Name of the first passenger Mirela'],
  ],
  [
    'a click into a field is only the way to it',
    [click(NAME), input(NAME, 'Edda')],
    ['type Name of the first passenger Edda'],
  ],
  [
    'a click into a field that nothing follows may have opened something',
    [click(NAME), click(GO)],
    ['click Name of the first passenger', 'click Find sailings'],
  ],
  [
    'a choice of a list',
    [click(TO), choice(TO, 'Tolva'), choice(TO, 'Quillhaven')],
    ['choose To Quillhaven'],
  ],
  ['several of a list', [choice(TO, 'Tolva', 'Quillhaven')], ['choose To Tolva, Quillhaven']],
  ['a tick, whatever made it', [click(RETURN), ticked(RETURN, true)], ['choose Return crossing yes']],
  [
    'a tick set and taken off again',
    [click(RETURN), ticked(RETURN, true), click(RETURN), ticked(RETURN, false)],
    ['choose Return crossing no'],
  ],
  [
    'Enter in a field; the browser clicks the button of the form',
    [input(NAME, 'Edda'), key('Enter', NAME), click(GO, { byKey: true })],
    ['type Name of the first passenger Edda', 'press Enter in Name of the first passenger'],
  ],
  ['a button by its key is a click', [key(' ', GO), click(GO, { byKey: true })], ['click Find sailings']],
  [
    'Tab only goes on',
    [input(NAME, 'Edda'), key('Tab', NAME), choice(TO, 'Tolva')],
    ['type Name of the first passenger Edda', 'choose To Tolva'],
  ],
  ['Tab matters when keys follow it', [key('Tab'), key('Enter')], ['press Tab', 'press Enter']],
  [
    'arrows in a text move the caret',
    [input(NAME, 'Edd'), key('ArrowLeft', NAME), input(NAME, 'Ed d')],
    ['type Name of the first passenger Ed d'],
  ],
  [
    'arrows in a field with suggestions choose one',
    [input(PORT, 'To'), key('ArrowDown', PORT), key('Enter', PORT)],
    ['type Port To', 'press ArrowDown in Port', 'press Enter in Port'],
  ],
  ['a double click', [click(GO), click(GO, { times: 2 })], ['click Find sailings twice']],
  [
    'a double click that shows something under the pointer',
    [click(GO), { kind: 'hover', element: NAME, atMs: next() }, click(GO, { times: 2 })],
    ['click Find sailings twice'],
  ],
  [
    'quick clicks at one place, where what is there changes',
    [click(PORT), click(GO, { times: 2 }), click(GO, { times: 3 })],
    ['click Port', 'click Find sailings twice'],
  ],
  [
    'a click with a key and another button',
    [click(GO, { button: 'right', with: ['Control'] })],
    ['click Find sailings with the right button, holding Control'],
  ],
  ['two clicks are two', [click(GO), click(GO)], ['click Find sailings', 'click Find sailings']],
  ['held keys', [key('a', NAME, ['Control'])], ['press Control+a in Name of the first passenger']],
  [
    'files, whatever opened the choice',
    [click(CARD), { kind: 'files', element: CARD, files: [{ name: 'card.txt', text: 'x' }], atMs: next() }],
    ['upload card.txt into Boarding card'],
  ],
  [
    'a dialog is answered before it opens',
    [click(GO), { kind: 'dialog', answer: 'accept', atMs: next() }],
    ['dialog accept the next one', 'click Find sailings'],
  ],
  [
    'of several addresses the last',
    [
      { kind: 'open', address: 'desk:/', atMs: 1 },
      { kind: 'open', address: 'gate:/', atMs: 2 },
    ],
    ['open gate /'],
  ],
])('%s', (_, events, expected) => {
  expect(said(...events)).toEqual(expected)
})

test('what hides its text is never recorded: a secret stands in its place, and that is said', () => {
  const password = field('Password', { type: 'password', secret: true })
  const [step] = stepsOfRecording([input(password, '')])
  expect(stepForm(step!.step)).toEqual({
    type: { in: expect.anything() as object, value: '${secret.PASSWORD}' },
  })
  expect(step!.problem).toContain('PASSWORD')
})

test('what nothing tells from others is written, and said', () => {
  const [step] = stepsOfRecording([click({ tag: 'div', counts: {} })])
  expect(step).toMatchObject({
    step: { verb: 'click', on: { css: 'div' } },
    problem: expect.any(String) as string,
  })
})

test('steps never come out of nothing, and no event makes two', () => {
  const pool = [
    click(GO),
    click(NAME),
    input(NAME, 'a'),
    key('Tab'),
    key('Enter', NAME),
    ticked(RETURN, true),
    choice(TO, 'x'),
  ]
  let seed = 7
  const random = (most: number) => (seed = (seed * 48271) % 2147483647) % most
  for (let round = 0; round < 300; round++) {
    const events = Array.from({ length: random(12) }, (_, i) => ({
      ...pool[random(pool.length)]!,
      atMs: i * 1000,
    }))
    const steps = stepsOfRecording(events)
    expect(steps.length).toBeLessThanOrEqual(events.length)
    expect(stepsOfRecording(events)).toEqual(steps)
    // each choice that was made last of its element is in the steps
    const lastTick = events.findLast(({ kind }) => kind === 'tick')
    if (lastTick) expect(steps.some(({ step }) => step.verb === 'choose')).toBe(true)
  }
})

test.each(['a', 'v', 'x', 'z'])('Control+%s in a field only led to what is in it then', (name) => {
  const lead = field('Lead')
  expect(
    stepsOfRecording([click(lead), key(name, lead, ['Control']), input(lead, 'I'), input(lead, 'Isla')]).map(
      ({ step }) => stepForm(step),
    ),
  ).toEqual([{ type: { in: { label: 'Lead' }, value: 'Isla' } }])
})
test('a click into a field, and a key there, is that key; on a button both are done', () => {
  const verbs = (...events: RecordedEvent[]) => stepsOfRecording(events).map(({ step }) => step.verb)
  expect(verbs(click(field('Lead')), key('Escape', field('Lead')))).toEqual(['press'])
  expect(verbs(click(field('Deck')), key('Escape', field('Lead')))).toEqual(['click', 'press'])
  expect(verbs(click(button('Menu')), key('Escape', button('Menu')))).toEqual(['click', 'press'])
})
test('a shortcut in another field, or of the page, is a step of its own', () => {
  const kept = (...events: RecordedEvent[]) =>
    stepsOfRecording([...events, input(field('Lead'), 'Isla')]).map(({ step }) => step.verb)
  expect(kept(key('a', field('Deck'), ['Control']))).toEqual(['press', 'type'])
  expect(kept(key('k', field('Lead'), ['Control']))).toEqual(['press', 'type'])
})

describe('what an element needed before something was done to it', () => {
  const hover = (element: ElementFacts): RecordedEvent => ({ kind: 'hover', element, atMs: next() })
  const answered = (is: boolean): RecordedEvent => ({ kind: 'answered', is, atMs: next() })
  const told = (...events: RecordedEvent[]) =>
    stepsOfRecording(events).map(({ step, caution, problem }) => [
      stepForm(step),
      ...(caution ? [caution] : []),
      ...(problem ? [problem] : []),
    ])

  test('each is a step before it', () => {
    const list = button('Cars', { role: 'list', css: '#cars', counts: { css: 1 } })
    expect(
      told(
        hover(button('Extras')),
        click(button('Meals')),
        { kind: 'scroll', element: button('Last car'), within: list, atMs: next() },
        click(button('Last car')),
        { kind: 'wait', element: button('Sailings', { role: 'heading' }), atMs: next() },
        click(button('Go on')),
      ),
    ).toEqual([
      [{ hover: { on: { role: 'button', name: 'Extras' } } }],
      [{ click: { on: { role: 'button', name: 'Meals' } } }],
      [{ scroll: { in: { css: '#cars' }, until: { role: 'button', name: 'Last car' } } }],
      [{ click: { on: { role: 'button', name: 'Last car' } } }],
      [{ wait: { for: { role: 'heading', name: 'Sailings' }, state: 'visible' } }],
      [{ click: { on: { role: 'button', name: 'Go on' } } }],
    ])
  })
  test('typing after a click into the field keeps what the field needed', () =>
    expect(told(hover(button('More')), click(field('Name')), input(field('Name'), 'Vessel'))).toEqual([
      [{ hover: { on: { role: 'button', name: 'More' } } }],
      [{ type: { in: { label: 'Name' }, value: 'Vessel' } }],
    ]))
  test('what cannot be found again is not waited for, and has to be chosen where the pointer stood', () => {
    const bare: ElementFacts = { tag: 'span', counts: {} }
    expect(told({ kind: 'wait', element: bare, atMs: next() })).toEqual([])
    expect(told(hover(bare))[0]!.at(-1)).toContain('choose how it is found')
  })
  test('what stood in the way is said', () => {
    expect(told(click(button('Go'), { unready: { is: 'moving' } }))[0]![1]).toContain('still moving')
    expect(told(click(button('Go'), { unready: { is: 'covered', by: 'div.news' } }))[0]![1]).toContain(
      'covered by div.news',
    )
  })
  test('a click that changed nothing says so until something changes', () => {
    expect(told(click(button('Go')), answered(false))[0]![1]).toContain('Nothing on the page changed')
    expect(told(click(button('Go')), answered(false), answered(true))[0]).toHaveLength(1)
  })
  test('done again it is one step, that goes on until something came of it', () => {
    const again = [click(button('Go')), answered(false), hover(button('Menu')), click(button('Go'))]
    expect(told(...again)[0]![1]).toContain('did nothing at first')
    expect(
      told(...again, { kind: 'came', element: button('Found', { role: 'heading' }), atMs: next() })[0]![0],
    ).toEqual({
      repeat: {
        until: { visible: { role: 'heading', name: 'Found' } },
        wait: '3s',
        times: 5,
      },
      steps: [{ click: { on: { role: 'button', name: 'Go' } } }],
    })
  })
  test('a click on nothing that did nothing is none', () => {
    const ground: ElementFacts = { tag: 'body', counts: {} }
    expect(told(click(ground))).toHaveLength(1)
    expect(told(click(ground), answered(false))).toEqual([])
  })
  test('answers to nothing change nothing', () =>
    expect(
      told(answered(false), input(field('Name'), 'a'), answered(false), {
        kind: 'came',
        element: button('Found'),
        atMs: next(),
      }),
    ).toEqual([[{ type: { in: { label: 'Name' }, value: 'a' } }]]))
})

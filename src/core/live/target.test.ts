import { stepForm } from '../model/editing'
import { looksGenerated, proposedChecks, targetOf, waysOf, type ElementFacts } from '.'

test.each([
  'css-1x2y3z',
  ':r1a:',
  'field-83921',
  '7f3a9c21',
  'sc-a1b2c3',
  'radix-12',
  'ember42',
  '#mui-4821',
  'a1b2c3d4-11',
])('%s looks generated', (id) => expect(looksGenerated(id)).toBe(true))
test.each([
  'fare-total',
  'deck',
  'step-2',
  '#search',
  'h1',
  'passenger_2',
  'top10',
  '[name=lead]',
  'gate-a1',
])('%s was written by a person', (id) => expect(looksGenerated(id)).toBe(false))

const facts = (more: Partial<ElementFacts>): ElementFacts => ({ tag: 'button', counts: {}, ...more })

test.each<[string, ElementFacts, object | undefined]>([
  [
    'its name, and how it is built',
    facts({ role: 'button', name: 'Pay', testId: 'pay', counts: { role: 1, testId: 1 } }),
    { role: 'button', name: 'Pay', testId: 'pay' },
  ],
  [
    'no generated id',
    facts({ role: 'button', name: 'Pay', css: '#f-83921', counts: { role: 1, css: 1 } }),
    { role: 'button', name: 'Pay' },
  ],
  [
    'a field by its label before its role',
    facts({ tag: 'input', role: 'textbox', name: 'Name', label: 'Name', counts: { role: 1, label: 1 } }),
    { label: 'Name' },
  ],
  [
    'what is not unique is left out',
    facts({ role: 'link', name: 'Choose', testId: 'row-a', counts: { role: 4, testId: 1 } }),
    { testId: 'row-a' },
  ],
  [
    'or told by its place',
    facts({ role: 'link', name: 'Choose', place: 3, counts: { role: 4 } }),
    { role: 'link', name: 'Choose', number: 3 },
  ],
  ['nothing', facts({ tag: 'div' }), undefined],
])('an element is found by %s', (_, given, expected) => expect(targetOf(given)).toEqual(expected))

test('each way is told with how many it finds, generated ones as such', () => {
  expect(
    waysOf(facts({ role: 'button', name: 'Pay', css: '#x-99123', counts: { role: 2, css: 1 } })),
  ).toEqual([
    { target: { role: 'button', name: 'Pay' }, count: 2, generated: false },
    { target: { css: '#x-99123' }, count: 1, generated: true },
  ])
})

describe('checks', () => {
  const words = (given: ElementFacts) => proposedChecks(given).map(({ words: said }) => said)

  test('of a text that something else finds', () => {
    const fare = facts({ tag: 'span', testId: 'fare-total', value: '86.00', counts: { testId: 1 } })
    expect(words(fare)).toEqual([
      'its text is “86.00”',
      'it is seen',
      'it looks as it does now',
      'read it, for later steps',
      'read it, and hand it over to later cases',
    ])
    expect(proposedChecks(fare).at(-1)!.step).toMatchObject({ as: 'fare_total', handoff: true })
  })
  test('not of the text it is found by', () => {
    expect(words(facts({ tag: 'p', text: 'Booked', value: 'Booked', counts: { text: 1 } }))[0]).toBe(
      'it is seen',
    )
  })
  test('of a tick, a link, a long text', () => {
    const tick = facts({
      tag: 'input',
      type: 'checkbox',
      label: 'Return',
      checked: true,
      counts: { label: 1 },
    })
    expect(words(tick)).toContain('it is ticked')
    expect(
      words(facts({ tag: 'a', role: 'link', name: 'Help', href: '/help', counts: { role: 1 } })),
    ).toContain('it leads to /help')
    const long = facts({ tag: 'p', testId: 'terms', value: 'tide '.repeat(80), counts: { testId: 1 } })
    expect(proposedChecks(long)[0]!.step).toMatchObject({
      matcher: { startsWith: expect.any(String) as string },
    })
  })
  test('of how it is, how many of its kind there are, and how it looks', () => {
    const row = facts({
      tag: 'button',
      testId: 'sail-early',
      disabled: true,
      attributes: { 'aria-pressed': 'true' },
      alike: { role: 'row', count: 3 },
      counts: { testId: 1 },
    })
    expect(words(row)).toEqual([
      'it is seen',
      'it takes no input',
      'its aria-pressed is “true”',
      'there are 3 of “row” on the page',
      'it looks as it does now',
    ])
    expect(proposedChecks(row).map(({ step }) => stepForm(step))).toMatchObject([
      {},
      { check: { of: { testId: 'sail-early' }, state: 'disabled' } },
      { check: { attribute: { name: 'aria-pressed', equals: 'true' } } },
      { check: { of: { role: 'row' }, count: { equals: '3' } } },
      { check: { screen: 'sail-early' } },
    ])
  })
  test('of words that are read on a part of the screen', () => {
    const part = facts({ tag: 'part of the screen', lines: ['Upper deck', 'Cabin 12'] })
    expect(words(part)).toEqual(['“Upper deck” is read on the screen', '“Cabin 12” is read on the screen'])
    expect(proposedChecks(part)[1]!.step).toMatchObject({ of: { words: 'Cabin 12' }, state: 'visible' })
    const around = facts({ tag: 'svg', css: '#deck-plan', counts: { css: 1 }, lines: ['Cabin 12'] })
    expect(words(around)).toEqual([
      '“Cabin 12” is read on the screen',
      'what is around it (#deck-plan) looks as it does now',
    ])
    expect(proposedChecks(around)[1]!.step).toMatchObject({ of: { css: '#deck-plan' }, subject: 'screen' })
    expect(words({ ...around, secret: true })).toHaveLength(1)
  })
  test('never of a secret, nor of what nothing finds', () => {
    const password = facts({
      tag: 'input',
      type: 'password',
      label: 'Password',
      secret: true,
      value: '',
      counts: { label: 1 },
    })
    expect(words(password)).toEqual(['it is seen'])
    expect(proposedChecks(facts({ tag: 'div', value: 'x' }))).toEqual([])
  })
})

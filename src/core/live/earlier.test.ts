import { EarlierScreens, targetOf, type ElementFacts, type ScreenSeen } from '.'

const choose: ElementFacts = {
  tag: 'button',
  role: 'button',
  name: 'Choose',
  text: 'Choose',
  testId: 'sailing-choose',
  css: '#choose',
  counts: { role: 1, text: 1, testId: 1, css: 1 },
}
const after = (...screens: ScreenSeen[]) => {
  const earlier = new EarlierScreens()
  for (const one of screens) earlier.add(one)
  return targetOf(earlier.withRepeated(choose))
}
const BOTH = { role: 'button', name: 'Choose', testId: 'sailing-choose' }

test.each<[string, ScreenSeen[], object]>([
  ['nothing was seen before', [], BOTH],
  ['its name stood once', [{ page: '/sailings', repeats: [] }], BOTH],
  [
    'its name stood several times',
    [
      { page: '/sailings', repeats: ['role button Choose', 'text Choose'] },
      { page: '/sailings', repeats: [] },
    ],
    { testId: 'sailing-choose' },
  ],
  [
    'its test id stood several times',
    [{ page: '/sailings', repeats: ['testId sailing-choose'] }],
    { role: 'button', name: 'Choose', css: '#choose' },
  ],
  [
    'every way stood several times, so that none is better',
    [
      {
        page: '/sailings',
        repeats: ['role button Choose', 'text Choose', 'testId sailing-choose', 'css #choose'],
      },
    ],
    BOTH,
  ],
  [
    'it was another page',
    [
      { page: '/fares', repeats: ['role button Choose'] },
      { page: '/sailings', repeats: [] },
    ],
    BOTH,
  ],
  [
    'it was the same page of another booking',
    [
      { page: '/bookings/HR-1204/berths', repeats: ['role button Choose', 'text Choose'] },
      { page: '/bookings/HR-1377/berths', repeats: [] },
    ],
    { testId: 'sailing-choose' },
  ],
  ['it was another button', [{ page: '/sailings', repeats: ['role button Pay', 'label Choose'] }], BOTH],
])('where %s', (_, screens, expected) => expect(after(...screens)).toEqual(expected))

test('what a page says that is no screen is passed over', () => {
  const screens = [{ page: 7, repeats: ['role button Choose'] }, { page: '/', repeats: 'all' }, {}]
  expect(after(...(screens as never[]))).toEqual(BOTH)
  expect(after({ page: '/', repeats: [null, { a: 1 }] as never })).toEqual(BOTH)
})

test('a page that says new names without end is remembered within bounds', () => {
  const earlier = new EarlierScreens()
  earlier.add({ page: '/', repeats: ['text Choose'] })
  for (let i = 0; i < 3000; i++) earlier.add({ page: '/', repeats: [`text ${i}`, `role button ${i}`] })
  for (let i = 0; i < 500; i++) earlier.add({ page: `/${'p'.repeat(i)}`, repeats: [] })
  earlier.add({ page: '/', repeats: [] })
  expect(earlier.withRepeated(choose).repeated).toBeUndefined()
})

test('of an event all elements are looked at', () => {
  const earlier = new EarlierScreens()
  earlier.add({ page: '/', repeats: ['css #choose'] })
  const event = earlier.withRepeatedOf({ kind: 'drag', element: choose, onto: choose })
  expect([event.element.repeated, event.onto.repeated]).toEqual([['css'], ['css']])
  expect(earlier.withRepeatedOf({ kind: 'go', to: 'back' })).toEqual({ kind: 'go', to: 'back' })
})

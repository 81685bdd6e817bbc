import { similar } from '.'
import { DEFECTS, NEW_ONES } from './testing/defects'
import { stem, wordsIn } from './words'

const described = ([title, text]: readonly [string, string]) => ({ title, text })
const known = DEFECTS.map(([told], i) => ({ id: String(i), ...described(told) }))

describe('words', () => {
  test.each([
    ['Boarding cards were printed', ['board', 'card', 'print']],
    [
      'checkFareTotal failed at FareTable2.update',
      ['check', 'far', 'total', 'checkfaretotal', 'fail', 'far', 'tabl', '2', 'faretable2', 'updat'],
    ],
    ['HTTPServer stopped', ['http', 'server', 'httpserver', 'stop']],
    ['', []],
    ['the of and', []],
  ])('%s', (text, words) => {
    expect(wordsIn(text)).toEqual(words)
  })

  test.each([
    ['prints', 'printed'],
    ['rounding', 'rounded'],
    ['cancellation', 'cancellations'],
    ['boxes', 'box'],
    ['stopping', 'stops'],
    ['refused', 'refuse'],
  ])('%s and %s are one', (one, other) => {
    expect(stem(one)).toBe(stem(other))
  })
})

test('words in common are told as they are written', () => {
  const draft = { title: 'Change the sailing', text: '' }
  const [one] = similar({ draft, defects: [{ id: 'a', title: 'Sailing changed twice', text: '' }] })
  expect(one!.because).toContain('change')
  expect(one!.because).toContain('sailing')
})

test('what is told in other words is found among the first three, and what is new scores lower', () => {
  const again = DEFECTS.flatMap(([, ...rewordings], i) =>
    rewordings.map((told) => ({ id: String(i), found: similar({ draft: described(told), defects: known }) })),
  )
  const right = again.filter(({ id, found }) => found.slice(0, 3).some((one) => one.id === id))
  expect(right.length / again.length).toBeGreaterThanOrEqual(0.95)

  const best = NEW_ONES.map((told) => similar({ draft: described(told), defects: known })[0]!.score)
  const ofKnown = again.map(({ found }) => found[0]!.score)
  let higher = 0
  for (const score of ofKnown) for (const other of best) higher += (Math.sign(score - other) + 1) / 2
  const area = higher / (ofKnown.length * best.length)
  expect(area).toBeGreaterThanOrEqual(0.95)
})

test('the same again is certain; ten are told, the best first, with reasons', () => {
  const found = similar({ draft: known[3]!, defects: known })
  expect(found[0]).toMatchObject({ id: '3', score: 1 })
  expect(found[0]!.because).toContain('words in common')
  expect(found.length).toBeGreaterThanOrEqual(10)
  expect(found.map(({ score }) => score)).toEqual(found.map(({ score }) => score).toSorted((a, b) => b - a))
})

test('the same signature says more than words; the place says a little', () => {
  const [first, second] = known as [(typeof known)[0], (typeof known)[0]]
  const draft = {
    ...described(DEFECTS[0]![1]!),
    signature: 'a',
    where: { browser: 'WebKit', build: '2026.11.4' },
  }
  const scored = (more: object) =>
    similar({ draft, defects: [{ ...first, ...more }, second] }).find(({ id }) => id === '0')!
  const plain = scored({}).score
  expect(scored({ signature: 'a' }).score).toBeGreaterThan(Math.max(0.8, plain))
  expect(scored({ signature: 'b' }).score).toBeLessThan(plain)
  expect(scored({ where: { browser: 'WebKit', build: '2026.11.4' } }).score).toBeGreaterThan(plain)
  expect(scored({ where: { browser: 'Firefox', build: '2026.11.3' } }).score).toBeLessThan(plain)
  expect(scored({ signature: 'a' }).because).toMatch(/^the same signature; /)
})

test('an id twice is bad input; nothing known is an empty list; texts of nothing are like nothing', () => {
  expect(() => similar({ draft: known[0]!, defects: [known[1]!, known[1]!] })).toThrow('defects/1/id')
  expect(similar({ draft: known[0]!, defects: [] })).toEqual([])
  const [only] = similar({ draft: { title: '', text: '…' }, defects: [known[0]!] })
  expect(only).toEqual({ id: '0', score: 0, because: 'nothing in common' })
})

test('a long text and hundreds of defects are done', () => {
  const text = 'at ferry.gate.Scan.read(Scan.java:41) of the card\n'.repeat(40_000)
  const defects = Array.from({ length: 500 }, (_, i) => ({ ...known[i % known.length]!, id: String(i) }))
  expect(
    similar({ draft: { title: 'Gate accepts a card of yesterday', text }, defects })[0]!.score,
  ).toBeGreaterThan(0)
})

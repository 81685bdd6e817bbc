import fc from 'fast-check'
import type { Step } from '../model'
import { compute } from '../compute'
import { shortenNext, shortenSteps, stepsKept, type ShortenTry } from '.'

const click = (text: string): Step => ({ verb: 'click', on: { text } })
const check = (text: string): Step => ({
  verb: 'check',
  of: { text },
  subject: 'state',
  state: 'visible',
  soft: false,
})
const block = (...steps: Step[]): Step => ({ verb: 'repeat', times: 2, steps }) as Step
const MOST = 200

/** Goes on until it is over. @param fails whether steps with these places fail in the same way */
function shortened(steps: Step[], failing: string, fails: (kept: Set<string>) => boolean, most = MOST) {
  const tries: ShortenTry[] = []
  for (;;) {
    const next = shortenNext({ steps: shortenSteps(steps), failing, tries, most })
    if (next.is !== 'try') return { next, tries }
    tries.push({ kept: next.kept, same: fails(new Set(next.kept)) })
  }
}
const needs =
  (...places: string[]) =>
  (kept: Set<string>) =>
    places.every((place) => kept.has(place))

const LONG = [click('a'), check('b'), click('c'), click('d'), check('e'), click('f'), click('g'), click('h')]

test.each<[string, Step[], string, string[], string[]]>([
  ['nothing before it', LONG, '6', [], ['6']],
  ['one step', LONG, '6', ['2'], ['2', '6']],
  ['two that stand apart', LONG, '6', ['0', '5'], ['0', '5', '6']],
  ['a check that it waits by', LONG, '6', ['4'], ['4', '6']],
  ['all of them', LONG, '3', ['0', '1', '2'], ['0', '1', '2', '3']],
  ['itself, as the first step', LONG, '0', [], ['0']],
  [
    'a step in a block',
    [click('a'), block(click('b'), click('c')), click('d')],
    '2',
    ['1.1'],
    ['1', '1.1', '2'],
  ],
  [
    'what stands before it in its block',
    [click('a'), block(click('b'), click('c'), click('d')), click('e')],
    '1.1',
    ['1.0'],
    ['1', '1.0', '1.1'],
  ],
])('a failure that needs %s', (_, steps, failing, needed, expected) => {
  const { next, tries } = shortened(steps, failing, needs(...needed))
  expect(next).toEqual({ is: 'over', kept: expected, isShortest: true })
  // nothing is tried twice, and the first try has all that was reached
  expect(new Set(tries.map(({ kept }) => kept.join())).size).toBe(tries.length)
})

test('what does not fail again is told after one try', () =>
  expect(shortened(LONG, '6', () => false)).toMatchObject({ next: { is: 'gone' }, tries: [{ same: false }] }))

test('when the tries are over, the shortest that failed so far is told', () => {
  const { next, tries } = shortened(LONG, '6', needs('0', '3'), 3)
  expect(tries).toHaveLength(3)
  expect(next).toMatchObject({ is: 'over', isShortest: false })
  const kept = next.is === 'over' ? next.kept : []
  expect(kept.length).toBeLessThan(7)
  expect(needs('0', '3')(new Set(kept))).toBe(true)
})

test('a long case of which nothing is needed takes two or three tries', () => {
  const steps = Array.from({ length: 60 }, (_, i) => (i % 3 === 0 ? check(`${i}`) : click(`${i}`)))
  const { tries } = shortened(steps, '59', () => true)
  expect(tries.length).toBeLessThanOrEqual(3)
})

test('property: of those left none can go alone, whatever is needed', () =>
  fc.assert(
    fc.property(fc.uniqueArray(fc.nat(11), { maxLength: 6 }), fc.boolean(), (needed, apart) => {
      const steps = Array.from({ length: 13 }, (_, i) => click(`${i}`))
      const fails = (kept: Set<string>) =>
        needed.every((one) => kept.has(String(one))) || (apart && kept.has('0') && kept.has('11'))
      const { next, tries } = shortened(steps, '12', fails)
      const kept = next.is === 'over' ? next.kept : []
      expect(fails(new Set(kept))).toBe(true)
      for (const one of kept.filter((place) => place !== '12'))
        expect(fails(new Set(kept.filter((place) => place !== one)))).toBe(false)
      // n squared and 3 n is the most that the method takes
      expect(tries.length).toBeLessThanOrEqual(12 * 12 + 36)
    }),
  ))

test('the steps that are left are those of the places; an empty block goes', () => {
  const steps = [click('a'), block(click('b'), click('c')), block(click('d'))]
  expect(stepsKept(steps, new Set(['1', '1.1', '2']))).toEqual([block(click('c'))])
  expect(stepsKept(steps, new Set(['0', '1', '1.0', '1.1', '2', '2.0']))).toEqual(steps)
})

test('it is computed without a case, too; places that cannot be are told', () => {
  const steps = [{ place: '0' }, { place: '1', looks: true }, { place: '2' }, { place: '2.0' }]
  const input = { steps, failing: '2', tries: [{ kept: ['0', '1', '2', '2.0'], same: true }], most: 9 }
  expect(compute('shorten', input)).toEqual({ is: 'try', kept: ['0', '2', '2.0'] })
  const wrong = { ...input, steps: [{ place: '1.0' }, { place: '0' }, { place: '0' }], failing: '7' }
  expect(() => compute('shorten', wrong)).toThrow(
    expect.objectContaining({
      faults: [
        { path: 'steps/0/place', message: '1 has to stand before it' },
        { path: 'steps/2/place', message: '0 stands there twice' },
        { path: 'failing', message: '7 is none of the steps' },
      ],
    }),
  )
})

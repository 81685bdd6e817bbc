/** Failures with the cause of each: made from what one cause looks like in many runs, engines and
 * languages. */
import { randomFrom } from '../../execution/random'
import { host, int, type Cause } from './making'

export { OTHERS } from './other-failures'
export { SERVICES } from './service-failures'
export { WEB } from './web-failures'

/** So many of each cause, in mixed order, with context of every kind. */
export function labelled(causes: readonly Cause[], each: number, seed: number) {
  const next = randomFrom(seed)
  const all = causes.flatMap(({ cause, say }) =>
    Array.from({ length: each }, (_, i) => ({ cause, failure: say(next, i), order: next() })),
  )
  return all
    .sort((a, b) => a.order - b.order)
    .map(({ cause, failure }, i) => ({
      cause,
      failure: {
        ...failure,
        id: String(i),
        case: `case-${int(next, 1, 40)}`,
        step: `main.${int(next, 0, 20)}`,
        url: `http://${host(next)}/`,
      },
    }))
}

/** How far two groupings of the same things agree: 1 in all, about 0 by chance (Hubert & Arabie 1985). */
export function adjustedRand(one: readonly string[], other: readonly string[]): number {
  const pairs = (n: number) => (n * (n - 1)) / 2
  const counts = (labels: readonly string[]) => {
    const map = new Map<string, number>()
    for (const label of labels) map.set(label, (map.get(label) ?? 0) + 1)
    return [...map.values()].reduce((sum, n) => sum + pairs(n), 0)
  }
  const both = counts(one.map((label, i) => `${label}\n${other[i]!}`))
  const [a, b] = [counts(one), counts(other)]
  const byChance = (a * b) / pairs(one.length)
  return (a + b) / 2 === byChance ? 1 : (both - byChance) / ((a + b) / 2 - byChance)
}

/** Which environment's picture stands in for one that has none yet. */
import type { Environment } from '../model'

/** What two environments have in common, and how much it says about their pictures. */
const LIKENESS: readonly [weight: number, of: (environment: Environment) => unknown][] = [
  [8, ({ browser }) => browser],
  [4, ({ os }) => os],
  [2, ({ colours }) => colours],
  [1, ({ locale }) => locale],
]

/** The environment most like one: of the same size, which a picture has to have, then by browser, system,
 * colours and language; of those as like the first by key.
 * @returns nothing when none is of its size */
export function nearestEnvironment<E extends Environment>(
  one: Environment,
  others: readonly E[],
): E | undefined {
  const likeness = (other: Environment) =>
    LIKENESS.reduce((sum, [weight, of]) => sum + (of(one) === of(other) ? weight : 0), 0)
  return others
    .filter(({ width, height }) => width === one.width && height === one.height)
    .sort((a, b) => likeness(b) - likeness(a) || (a.key < b.key ? -1 : 1))[0]
}

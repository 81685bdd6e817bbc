/** How right the proposals of causes were, by what people decided then. */
import { causeDecided, type DecisionKind } from './decisions'
import { CAUSES, type CauseName } from './evidence'

/** `likely`: what was proposed when it was decided, the likeliest first. */
export type Proposed = { likely: readonly { cause: CauseName; likelihood: number }[]; as: DecisionKind }
/** `meanLikelihood`: what the proposals said of themselves; a good model is right that often. */
export type Band = { from: number; to: number; of: number; right: number; meanLikelihood: number | null }
export type Reliability = {
  of: number
  right: number
  /** `proposed`: how often first; `right`: how often it was that; `decided`: how often people said so. */
  byCause: { cause: CauseName; proposed: number; right: number; decided: number }[]
  bands: Band[]
}

const BOUNDS = [0, 0.4, 0.6, 0.8, 1]

/** Of each decision the first proposal counts. What people decided to be no failure has no cause: a proposal
 * of it was wrong. One without a proposal says nothing. */
export function reliabilityOf(all: readonly Proposed[]): Reliability {
  const told = all.flatMap(({ likely, as }) => {
    const [first] = likely.toSorted((a, b) => b.likelihood - a.likelihood)
    const decided = causeDecided(as)
    return first ? [{ ...first, decided, isRight: first.cause === decided }] : []
  })
  const right = (some: typeof told) => some.filter(({ isRight }) => isRight).length
  return {
    of: told.length,
    right: right(told),
    byCause: CAUSES.map((cause) => {
      const own = told.filter((one) => one.cause === cause)
      const decided = told.filter((one) => one.decided === cause).length
      return { cause, proposed: own.length, right: right(own), decided }
    }),
    bands: BOUNDS.slice(1).map((to, i) => {
      const from = BOUNDS[i]!
      const own = told.filter(
        ({ likelihood }) => likelihood >= from && (likelihood < to || (to === 1 && likelihood <= 1)),
      )
      const sum = own.reduce((total, { likelihood }) => total + likelihood, 0)
      return {
        from,
        to,
        of: own.length,
        right: right(own),
        meanLikelihood: own.length === 0 ? null : sum / own.length,
      }
    }),
  }
}

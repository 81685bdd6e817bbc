/** How long a case takes, whatever the environment, from what it took: what lists show. Plans use `estimate`
 * of planning. */
import { longestPart, type Step, type TestCase } from '../model'

/** Time a step takes where nothing is known yet: a guess, replaced by the first run. */
const STEP_GUESS_MS = 600
/** Steps a routine is taken to have, without opening it. */
const ROUTINE_GUESS_STEPS = 4

/** Lower median: of an even number of values the lower middle one, so that it is always a value that was
 * measured.
 * @returns `undefined` for no values */
export function medianMs(values: readonly number[]): number | undefined {
  if (values.length === 0) return undefined
  return [...values].sort((a, b) => a - b)[Math.floor((values.length - 1) / 2)]
}

const guessedSteps = (verb: Step['verb']) => (verb === 'use' ? ROUTINE_GUESS_STEPS : 0)

/** Steps with those inside them; of a routine as many as it is taken to have. */
export const countSteps = (steps: readonly Step[]): number =>
  steps.reduce(
    (sum, step) => sum + 1 + ('steps' in step ? countSteps(step.steps) : guessedSteps(step.verb)),
    0,
  )

/** One case run of a case: the median of what it took, else a guess by its steps. */
export const expectedMs = (
  durations: readonly number[] | undefined,
  testCase: Pick<TestCase, 'steps' | 'roles'> | undefined,
): number =>
  medianMs(durations ?? []) ?? (testCase ? countSteps(longestPart(testCase, countSteps)) * STEP_GUESS_MS : 0)

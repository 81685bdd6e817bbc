import type { GuidedStep } from './sheet'
import { isJudged } from './verdicts'

/** Nothing is known yet of how long people take: so much a step is guessed. */
export const GUESS_STEP_MS = 20_000

/** How long a person will probably take for a sheet, roughly. */
export const guessedMs = (steps: readonly GuidedStep[]): number =>
  Math.max(1, steps.filter(isJudged).length) * GUESS_STEP_MS

/** What a machine did of a guided case, as it is said on the sheet: a browser of an agent carries out the
 * steps that are not for people, while a person looks on. */
import type { AttemptOutcome } from '../execution'
import type { PersonsVerdict } from '../live'
import type { GuidedStep } from './sheet'
import { isJudged, type GuidedPicture, type GuidedVerdict } from './verdicts'

const SAID: Partial<Record<AttemptOutcome, PersonsVerdict>> = {
  passed: 'passed',
  failed: 'failed',
  errored: 'cannot',
  skipped: 'skipped',
}

export type CarriedOut = {
  /** Of the step that was carried out as one. */
  path: string
  outcome: AttemptOutcome
  note: string
  pictures: GuidedPicture[]
}

/** Of one that holds others, all of them share a good end; a bad one is said of the first, as which of them
 * it was is not known.
 * @param atMs worked time @returns nothing for a step that is not on the sheet, or did not end */
export function saidOfMachine(
  steps: readonly GuidedStep[],
  { path, outcome, note, pictures }: CarriedOut,
  atMs: number,
): GuidedVerdict[] {
  const is = SAID[outcome]
  const meant = steps.filter((step) => isJudged(step) && (step.path === path || isWithin(step.path, path)))
  if (is === undefined) return []
  const isGood = is === 'passed' || is === 'skipped'
  return (isGood ? meant : meant.slice(0, 1)).map((step, i) => ({
    path: step.path,
    is,
    note: i === 0 ? note : '',
    atMs: Math.round(atMs),
    pictures: i === 0 ? pictures : [],
  }))
}

const isWithin = (path: string, outer: string): boolean => path.startsWith(`${outer}.`)

/** Verdicts with some more; of two for a step the later. */
export function withVerdicts(
  verdicts: readonly GuidedVerdict[],
  more: readonly GuidedVerdict[],
): GuidedVerdict[] {
  const paths = new Set(more.map(({ path }) => path))
  return [...verdicts.filter(({ path }) => !paths.has(path)), ...more]
}

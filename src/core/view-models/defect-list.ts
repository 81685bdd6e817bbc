/** Which defects a list shows, and the list as a table to take along. */
import type { DefectViewModel } from './workspace-types'

/** Where a defect stands, as one word of the list. */
export const DEFECT_PLACES = ['draft', 'on the way', 'with the tracker', 'mailed'] as const
export type DefectPlace = (typeof DEFECT_PLACES)[number]

export const placeOfDefect = ({ state, mailTo }: Pick<DefectViewModel, 'state' | 'mailTo'>): DefectPlace => {
  if (state === 'draft') return 'draft'
  if (state === 'to-send') return 'on the way'
  return mailTo === null ? 'with the tracker' : 'mailed'
}

/** States of a tracker that mean something here: it is over, somebody says that it is mended, and it is gone
 * there. */
export const [TRACKER_OVER, TRACKER_SAID_FIXED, TRACKER_DELETED] = [
  'closed',
  'said fixed',
  'deleted there',
] as const

/** Empty: whatever it is. `words`: each stands somewhere in it. */
export type DefectFilter = { words: string; place: string; severity: string; build: string }
export const NO_DEFECT_FILTER: DefectFilter = { words: '', place: '', severity: '', build: '' }

type Filtered = Pick<
  DefectViewModel,
  | 'title'
  | 'steps'
  | 'expected'
  | 'actual'
  | 'environment'
  | 'caseKey'
  | 'trackerNumber'
  | 'trackerState'
  | 'state'
  | 'mailTo'
  | 'severity'
  | 'build'
>

/** Those that fit, in their order. */
export function defectsThatFit<D extends Filtered>(
  defects: readonly D[],
  { words, place, severity, build }: DefectFilter,
): D[] {
  const wanted = words.toLocaleLowerCase('en').split(/\s+/).filter(Boolean)
  return defects.filter((one) => {
    if (place !== '' && placeOfDefect(one) !== place) return false
    if (severity !== '' && one.severity !== severity) return false
    if (build !== '' && one.build !== build) return false
    const { title, steps, expected, actual, environment, caseKey, trackerNumber, trackerState } = one
    const text = [title, steps, expected, actual, environment, caseKey, trackerNumber, trackerState]
      .join('\n')
      .toLocaleLowerCase('en')
    return wanted.every((word) => text.includes(word))
  })
}

const HEAD = [
  'number',
  'title',
  'severity',
  'standing',
  'state',
  'build',
  'environment',
  'case',
  'logged by',
  'logged',
]

/** A row for each; the first row names the columns. */
export const defectCells = (
  defects: readonly (Filtered & { createdBy: string; createdAt: string | Date })[],
): string[][] => [
  HEAD,
  ...defects.map((one) => [
    one.trackerNumber ?? '',
    one.title,
    one.severity,
    placeOfDefect(one),
    one.trackerState ?? '',
    one.build,
    one.environment,
    one.caseKey,
    one.createdBy,
    typeof one.createdAt === 'string' ? one.createdAt : one.createdAt.toISOString(),
  ]),
]

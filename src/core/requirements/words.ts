/** What the page and the document of a release call things. */
import type { Coverage } from './coverage'
import type { Verdict, Weight } from './release'

export const VERDICT_WORDS: Record<Verdict, string> = {
  go: 'Nothing speaks against it',
  stop: 'It should not go out',
  unknown: 'Nobody can tell yet',
}
export const WEIGHT_WORDS: Record<Weight, string> = {
  stops: 'against it',
  doubt: 'not known',
  note: 'to know',
  good: 'for it',
}
export const COVERAGE_WORDS: Record<Coverage, string> = {
  failing: 'not met',
  uncovered: 'no case',
  'not-run': 'not run',
  partly: 'in part',
  passing: 'met',
}

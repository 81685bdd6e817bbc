import type { Mark } from '@/core/execution'
import type { PersonsVerdict } from '@/core/live'

/** What a person says of a step: its word on the button, its key, and what it means. */
export const VERDICT_WORDS: readonly [is: PersonsVerdict, label: string, key: string, what: string][] = [
  ['passed', 'It is so', 'y', 'what is expected is there'],
  ['failed', 'It is not so', 'n', 'what is expected is not there'],
  ['cannot', 'Cannot do it', 'c', 'the step cannot be done'],
  ['skipped', 'Pass over', 'o', 'go on without it'],
]

export const MARK_OF: Record<PersonsVerdict, Mark> = {
  passed: 'passed',
  failed: 'failed',
  cannot: 'errored',
  skipped: 'skipped',
}

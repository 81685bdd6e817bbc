import type { OutlineLine } from '../outline'

/** A line of an outline that passed and of which nothing more is known. */
export const outlineLine = (
  path: string,
  words: OutlineLine['words'],
  more: Partial<OutlineLine> = {},
): OutlineLine => ({
  path,
  depth: 0,
  words,
  mark: 'passed',
  values: {},
  console: [],
  requests: [],
  onTheWay: false,
  failing: false,
  ...more,
})

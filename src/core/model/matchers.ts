/** Does an actual value hold against what was expected? */
import { expressionProblem, findsExpression } from './expressions'
import type { Matcher } from './types'

export type Verdict = { holds: boolean; expected: string }

/** What a check says it found where there was nothing to compare. */
export const NOTHING_FOUND = {
  element: 'no such element',
  attribute: 'it has none',
  download: 'nothing was downloaded',
  dialog: 'the browser showed no dialog',
} as const

/** Note of a check of a screen that has nothing to be compared with. */
export const NOT_YET_ACCEPTED = 'there was no accepted screen: this one is proposed'

/** Numbers as pages write them: "£ 1,234.50", "86.40", "12 kg". `NaN` when there is none. */
export function numberIn(text: string): number {
  const found = /-?\d[\d,\u00a0\u202f ]*(?:\.\d+)?/.exec(text)
  return found ? Number(found[0].replace(/[,\u00a0\u202f ]/g, '')) : NaN
}

/** White space as a reader sees it: runs are one space, none at the ends. */
export const tidy = (text: string) => text.replace(/\s+/g, ' ').trim()

type Test = { holds(actual: string): boolean; expected: string }

function testsOf(matcher: Matcher): Test[] {
  const tests: Test[] = []
  const add = (expected: string, holds: (actual: string) => boolean) => tests.push({ expected, holds })
  const { equals, not, contains, startsWith, matches, near, between, atLeast, atMost, empty, oneOf } = matcher
  if (equals !== undefined) add(String(equals), (a) => a === tidy(String(equals)))
  if (not !== undefined) add(`not ${not}`, (a) => a !== tidy(String(not)))
  if (contains !== undefined) add(`contains ${contains}`, (a) => a.includes(tidy(contains)))
  if (startsWith !== undefined) add(`starts with ${startsWith}`, (a) => a.startsWith(tidy(startsWith)))
  if (matches !== undefined) add(expressionWords(matches), (a) => findsExpression(matches, a))
  if (near !== undefined)
    add(
      `${near.value} within ${near.within}`,
      (a) => Math.abs(numberIn(a) - Number(near.value)) <= Number(near.within) + 1e-9,
    )
  if (between !== undefined)
    add(
      `between ${between[0]} and ${between[1]}`,
      (a) => numberIn(a) >= Number(between[0]) && numberIn(a) <= Number(between[1]),
    )
  if (atLeast !== undefined) add(`at least ${atLeast}`, (a) => numberIn(a) >= Number(atLeast))
  if (atMost !== undefined) add(`at most ${atMost}`, (a) => numberIn(a) <= Number(atMost))
  if (empty !== undefined) add(empty ? 'empty' : 'not empty', (a) => (a === '') === empty)
  if (oneOf !== undefined)
    add(`one of ${oneOf.join(', ')}`, (a) => oneOf.some((value) => a === tidy(String(value))))
  return tests
}

/** Values filled in may have made it one that cannot be used. */
function expressionWords(pattern: string): string {
  const problem = expressionProblem(pattern)
  return `matches /${pattern}/${problem === undefined ? '' : `, which cannot be used: ${problem}`}`
}

/** Compares; all parts of the matcher must hold. `expected` is worded for a reader, values first. */
export function match(actual: string, matcher: Matcher): Verdict {
  const tests = testsOf(matcher)
  const tidied = tidy(actual)
  return {
    holds: tests.every((test) => test.holds(tidied)),
    expected: tests.map((test) => test.expected).join(' and '),
  }
}

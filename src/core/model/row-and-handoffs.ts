/** What a case takes from its table and from a start, and what it hands on. */
import type { Step, TestCase } from './types'
import { referencesIn } from './values'
import { handedOnBy } from './verbs'
import { partsOfCase, walkSteps } from './walk'

/** Columns of a row that a case refers to. */
export const columnsOf = (testCase: TestCase): string[] =>
  referencesIn([partsOfCase(testCase), testCase.undo, testCase.parameters])
    .filter((reference) => reference.startsWith('row.'))
    .map((reference) => reference.slice(4))

/** Names of the values that a start may give these cases: their parameters and handoffs, and what their steps
 * refer to. */
export const valuesTakenBy = (cases: readonly TestCase[]): string[] => [
  ...new Set(
    cases.flatMap((testCase) => [
      ...Object.keys(testCase.parameters),
      ...testCase.needs,
      ...referencesIn([partsOfCase(testCase), testCase.undo, testCase.parameters]).filter((name) =>
        PLAIN_NAME.test(name),
      ),
    ]),
  ),
]
const PLAIN_NAME = /^[A-Za-z]\w*$/

/** Names that its steps, those of its roles and of the routines they use read with `handoff: true`. */
export const handoffsOfCase = (
  testCase: TestCase,
  routineSteps: (key: string) => readonly Step[],
): string[] => handoffsIn(partsOfCase(testCase), routineSteps, [])

function handoffsIn(
  steps: readonly Step[],
  routineSteps: (key: string) => readonly Step[],
  above: readonly string[],
): string[] {
  return [...walkSteps(steps)].flatMap((step) => {
    if (step.verb !== 'use') return handedOnBy(step)
    if (above.includes(step.routine)) return []
    return handoffsIn(routineSteps(step.routine), routineSteps, [...above, step.routine])
  })
}

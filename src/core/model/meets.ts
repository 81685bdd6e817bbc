/** Which applications a case has to do with. Apart from rules, which know them by name only: who reads a rule
 * need not know every verb. */
import type { Routine, Step, TestCase } from './types'
import { addressOf } from './verbs'
import { partsOfCase, walkSteps } from './walk'

/** Applications a case meets: the ones its steps open and call, routines included. Sorted. */
export function applicationsOf(testCase: TestCase, routines: ReadonlyMap<string, Routine>): string[] {
  const found = new Set<string>()
  const opened = new Set<string>()
  const follow = (key: string | undefined) => {
    if (key === undefined || opened.has(key)) return
    opened.add(key)
    visit(routines.get(key)?.steps ?? [])
  }
  const visit = (steps: readonly Step[]) => {
    for (const step of walkSteps(steps)) {
      const address = addressOf(step)
      if (address !== undefined) found.add(address.slice(0, address.indexOf(':')))
      if (step.verb === 'use') follow(step.routine)
    }
  }
  follow(testCase.entry)
  visit(partsOfCase(testCase))
  return [...found].sort()
}

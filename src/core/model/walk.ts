/** The one way through the steps of a case: whoever asks what a case does goes it. */
import type { Routine, Step, TestCase } from './types'
import { referencesIn } from './values'

type Holder = Pick<Routine, 'steps' | 'undo'> & Pick<TestCase, 'roles'>

/** Steps and those inside them, both branches of an `if` included, in the order of the file. */
export function* walkSteps(steps: readonly Step[]): Generator<Step> {
  for (const step of steps) {
    yield step
    if ('steps' in step) yield* walkSteps(step.steps)
    if (step.verb === 'if') yield* walkSteps(step.otherwise)
  }
}

/** References of a step itself, without those of the steps inside it. */
export function ownReferences(step: Step): string[] {
  const { steps: _, otherwise: __, ...own } = step as Step & { steps?: Step[]; otherwise?: Step[] }
  return referencesIn(own)
}

/** What carries out a case, apart from its undo steps: its own steps, and those of each role of a joint
 * case. */
export const partsOfCase = ({ steps, roles = {} }: Pick<Holder, 'steps' | 'roles'>): Step[] => [
  ...steps,
  ...Object.values(roles).flatMap((role) => role.steps),
]

/** All steps of a case or a routine: of its roles and its undo steps too, with those inside them. The steps
 * of routines it uses are not among them. */
export const stepsOfCase = (one: Holder): Step[] => [...walkSteps([...partsOfCase(one), ...one.undo])]

/** The steps that decide how long a case takes: its own, or those of the role with the most, as roles play at
 * the same time. */
export function longestPart(
  { steps, roles = {} }: Pick<Holder, 'steps' | 'roles'>,
  count: (steps: readonly Step[]) => number,
): Step[] {
  return Object.values(roles).reduce(
    (longest, role) => (count(role.steps) > count(longest) ? role.steps : longest),
    steps,
  )
}

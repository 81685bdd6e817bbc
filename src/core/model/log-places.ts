/** From a path of the log to the step in the files that it tells of. */
import type { Path } from './edit'
import type { Routine, Step, StepOf, TestCase } from './types'

export type FileOfStep = { kind: 'case' | 'routine'; key: string }
/** A step where it is written, and the `use` steps it was reached by, outermost first. */
export type StepPlace = {
  step: Step
  file: FileOfStep
  path: Path
  uses: { step: StepOf<'use'>; file: FileOfStep; path: Path }[]
}
type Definitions = { testCase: TestCase; routineOf(key: string): Routine | undefined }
type Inside = Pick<StepPlace, 'file' | 'uses'> & { list: Path }

/** Where the step of a log path stands: "main.2.0", "undo.1", "entry.0.3". Steps of an `if` are counted from
 * 0 in both branches, and the path does not tell which: then there may be two.
 * @param role whose steps "main" are, in a joint case
 * @returns none for tries before the last, and for undo steps that routines brought along */
export function placesOf(path: string, role: string, definitions: Definitions): StepPlace[] {
  const [phase, ...parts] = path.split('.')
  if (parts.length === 0 || !parts.every((part) => /^\d+$/.test(part))) return []
  const { testCase } = definitions
  const file: FileOfStep = { kind: 'case', key: testCase.key }
  const at = parts.map(Number)
  if (phase === 'undo') return within(testCase.undo, at, { file, list: ['undo'], uses: [] }, definitions)
  if (phase === 'entry') {
    const routine = definitions.routineOf(testCase.entry ?? '')
    const place: Inside = { file: { kind: 'routine', key: routine?.key ?? '' }, list: ['steps'], uses: [] }
    return routine && at[0] === 0 ? within(routine.steps, at.slice(1), place, definitions) : []
  }
  if (phase !== 'main') return []
  return role === ''
    ? within(testCase.steps, at, { file, list: ['steps'], uses: [] }, definitions)
    : within(
        testCase.roles?.[role]?.steps ?? [],
        at,
        { file, list: ['roles', role, 'steps'], uses: [] },
        definitions,
      )
}

function within(
  steps: readonly Step[],
  [first, ...rest]: readonly number[],
  { file, list, uses }: Inside,
  definitions: Definitions,
): StepPlace[] {
  const step = first === undefined ? undefined : steps[first]
  if (!step) return []
  const path = [...list, first!]
  if (rest.length === 0) return [{ step, file, path, uses }]
  const into = (inner: readonly Step[], field: string, at = rest) =>
    within(inner, at, { file, list: [...path, field], uses }, definitions)
  switch (step.verb) {
    case 'block':
      return into(step.steps, 'steps')
    case 'if':
      return [...into(step.steps, 'steps'), ...into(step.otherwise, 'else')]
    case 'repeat': // the number of the round stands between
      return into(step.steps, 'steps', rest.slice(1))
    case 'use': {
      const routine = definitions.routineOf(step.routine)
      const place: Inside = {
        file: { kind: 'routine', key: step.routine },
        list: ['steps'],
        uses: [...uses, { step, file, path }],
      }
      return routine ? within(routine.steps, rest, place, definitions) : []
    }
    default:
      return []
  }
}

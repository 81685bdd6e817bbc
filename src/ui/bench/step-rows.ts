/** The steps of a definition as lines of trees. */
import { describeStep, type Routine, type Step, type TestCase } from '@/core/model'
import type { Path } from '@/core/model/editing'
import { plural } from '@/core/view-models'
import { idOf, type TreeRow } from '../tree/rows'

/** `number` counts as the steps are read; `logPath` is the step's place in logs. `step` is absent for the
 * line that says "else". */
export type StepRow = TreeRow & { step?: Step; number: number; logPath: string }

/** A list of steps in the file: those of a case or a routine, of one of its roles, or its undo steps. */
export type StepList = {
  /** Where in the file it stands. */
  path: Path
  label: string
  heading: string
  rows: StepRow[]
  /** How many steps it has at its outermost level. */
  length: number
}

/** All lists of steps that are played, in the order of the file, without the undo steps. */
export function playedLists({ steps, roles }: Pick<Routine, 'steps'> & Pick<TestCase, 'roles'>): StepList[] {
  if (!roles) return [listOf(['steps'], 'Steps', '', steps, 'main')]
  return Object.entries(roles).map(([name, role]) =>
    listOf(['roles', name, 'steps'], `Steps of ${name}`, `${name}: `, role.steps, 'main'),
  )
}

export const undoList = ({ undo }: Pick<Routine, 'undo'>): StepList =>
  listOf(['undo'], 'Undo steps', '', undo, 'undo')

/** The line of the file a row stands at. */
export function lineOfRow(definition: TestCase | Routine, id: string): number | undefined {
  const rows = [...playedLists(definition), undoList(definition)].flatMap((list) => list.rows)
  return rows.find((row) => row.id === id)?.step?.line
}

function listOf(path: Path, label: string, before: string, steps: readonly Step[], log: string): StepList {
  const rows = rowsOf(steps, path, log)
  const count = rows.filter(({ step }) => step).length
  return { path, label, heading: `${before}${plural(count, 'step')}`, rows, length: steps.length }
}

function rowsOf(steps: readonly Step[], path: Path, log: string): StepRow[] {
  let number = 0
  const below = (list: readonly Step[], at: Path, logPath: string, depth: number): StepRow[] =>
    list.flatMap((step, i) => {
      const here = [...at, i]
      const holds =
        step.verb === 'block' || step.verb === 'if' || step.verb === 'repeat' ? 'steps' : undefined
      const { verb, object, detail } = describeStep(step)
      const row: StepRow = {
        id: idOf(here),
        path: here,
        depth,
        title: [verb, object, detail].filter(Boolean).join(' '),
        step,
        number: ++number,
        logPath: `${logPath}.${i}`,
        ...(holds && { holds, group: true }),
        ...(step.off && { dim: true }),
      }
      const inner = 'steps' in step ? below(step.steps, [...here, 'steps'], row.logPath, depth + 1) : []
      if (step.verb !== 'if' || step.otherwise.length === 0) return [row, ...inner]
      const other: StepRow = {
        id: `${row.id}.else`,
        path: [...here, 'else'],
        depth,
        title: 'else',
        number: 0,
        logPath: `${row.logPath}.else`,
        fixed: true,
      }
      return [row, ...inner, other, ...below(step.otherwise, [...here, 'else'], row.logPath, depth + 1)]
    })
  return below(steps, path, log, 0)
}

/** The step of a path in logs; of a path within a routine the step that uses it. */
export function stepOfPath(rows: readonly StepRow[], path: string): StepRow | undefined {
  // tries that a recovery rule set aside have a sign and a number behind
  const plain = path.replace(/[!~].*$/, '')
  return rows
    .filter(({ logPath, step }) => step && (logPath === plain || plain.startsWith(`${logPath}.`)))
    .toSorted((a, b) => b.logPath.length - a.logPath.length)[0]
}

/** The line that an address asks for: by its own id, or by a path in logs. */
export function rowAsked(
  definition: (Pick<Routine, 'steps'> & Pick<TestCase, 'roles'>) | undefined,
  asked: string | null,
): string | null {
  if (asked === null || !definition) return asked
  const rows = playedLists(definition).flatMap((list) => list.rows)
  return rows.some(({ id }) => id === asked) ? asked : (stepOfPath(rows, asked)?.id ?? asked)
}

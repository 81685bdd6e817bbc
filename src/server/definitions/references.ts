import {
  columnsOf,
  stepsOfCase,
  walkSteps,
  type Definition,
  type FileProblem,
  type Library,
  type RecoveryPolicy,
  type Rotation,
  type Routine,
  type Step,
  type SuiteEntry,
} from '@/core/model'

export type There = Pick<Library, 'case' | 'suite' | 'table'> & {
  routines: ReadonlyMap<string, Routine>
  rotations: ReadonlyMap<string, Rotation>
  policies: ReadonlyMap<string, RecoveryPolicy>
}
type Placed = { file: string; document: Definition }

/** What definitions say of each other that is not so: a routine, case, suite, table, column or parameter that
 * is not there. They are kept all the same.
 * @param checked whose sayings are looked at
 * @param there everything that is there */
export function brokenReferences(checked: readonly Placed[], there: There): FileProblem[] {
  return checked.flatMap(({ file, document }) => {
    const problems: FileProblem[] = []
    const report = (line: number, field: string, message: string) =>
      problems.push({ file, line, column: 1, field, message })
    if ('policy' in document && document.policy !== undefined && !there.policies.has(document.policy))
      report(1, 'policy', `the recovery policy “${document.policy}” is not there`)
    if (document.kind === 'suite') {
      for (const { case: testCase, suite, data } of allEntries(document.entries)) {
        if (testCase && !there.case(testCase)) report(1, 'entries', `case “${testCase}” is not there`)
        if (suite && !there.suite(suite)) report(1, 'entries', `suite “${suite}” is not there`)
        if (data && !there.table(data)) report(1, 'entries', `the table “${data}” is not there`)
      }
    } else if (document.kind === 'rotation') {
      document.what.forEach((part, i) => {
        if ('suite' in part && !there.suite(part.suite))
          report(1, `what.${i}.suite`, `suite “${part.suite}” is not there`)
        if ('case' in part && !there.case(part.case))
          report(1, `what.${i}.case`, `case “${part.case}” is not there`)
      })
      for (const step of walkSteps([...document.before, ...document.after]))
        if (step.verb === 'use') checkUse(step, there.routines.get(step.routine), report)
      const { follows, when } = document
      if (follows && !there.rotations.has(follows.rotation))
        report(1, 'follows.rotation', `rotation “${follows.rotation}” is not there`)
      const circle = follows && circleOf(document, there.rotations)
      if (circle)
        report(1, 'follows.rotation', `they follow each other in a circle: ${circle.join(', then ')}`)
      when?.notWith.forEach(
        (key, i) =>
          !there.rotations.has(key) && report(1, `when.notWith.${i}`, `rotation “${key}” is not there`),
      )
    } else if (document.kind === 'policy') {
      for (const step of walkSteps(document.rules.flatMap((rule) => rule.do)))
        if (step.verb === 'use') checkUse(step, there.routines.get(step.routine), report)
    } else if (document.kind !== 'data') {
      for (const step of stepsOfCase(document))
        if (step.verb === 'use') checkUse(step, there.routines.get(step.routine), report)
      if (document.kind === 'case') {
        if (document.entry && !there.routines.has(document.entry))
          report(1, 'entry', `no routine brings about the entry state “${document.entry}”`)
        const table = document.data === undefined ? undefined : there.table(document.data)
        if (document.data && !table) report(1, 'data', `the table “${document.data}” is not there`)
        for (const column of columnsOf(document))
          if (table && !table.columns.includes(column))
            report(1, 'data', `the table “${document.data}” has no column “${column}”`)
      }
    }
    return problems
  })
}

/** The rotations that start each other for ever, beginning with this one; `undefined` when there is an
 * end. */
function circleOf(first: Rotation, rotations: ReadonlyMap<string, Rotation>): string[] | undefined {
  const way = [first.key]
  for (
    let next = first.follows?.rotation;
    next !== undefined;
    next = rotations.get(next)?.follows?.rotation
  ) {
    if (next === first.key) return [...way, next]
    if (way.includes(next)) return undefined // a circle of others
    way.push(next)
  }
  return undefined
}

function checkUse(
  step: Extract<Step, { verb: 'use' }>,
  routine: Routine | undefined,
  report: (line: number, field: string, message: string) => void,
): void {
  const line = step.line ?? 1
  if (!routine) return void report(line, 'use', `routine “${step.routine}” is not there`)
  for (const name of Object.keys(step.with)) {
    if (!Object.hasOwn(routine.parameters, name))
      report(
        line,
        'with',
        `routine “${step.routine}” has no parameter “${name}”${Object.keys(routine.parameters).length > 0 ? `; it has ${Object.keys(routine.parameters).join(', ')}` : ''}`,
      )
  }
}

export const allEntries = (entries: readonly SuiteEntry[]): SuiteEntry[] =>
  entries.flatMap((entry) => [entry, ...allEntries(entry.entries)])

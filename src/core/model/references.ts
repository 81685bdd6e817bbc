/** References of definitions that lead nowhere: to another definition, to something that Settings does not
 * have, or to a value that nothing gives. */
import { allEntries, type Library } from './flatten'
import { columnsOf } from './row-and-handoffs'
import type { Definition } from './definition'
import type { Rotation } from './rotation-types'
import type { FileProblem, Missing, RecoveryPolicy, Routine, Step, Suite, TestCase } from './types'
import { GIVEN_NAMES, referencesIn } from './values'
import { reachOf } from './reach'
import { parseRule, unknownInRule } from './rules'
import { addressOf, handedOnBy, readBy, targetsOf } from './verbs'
import { ownReferences, partsOfCase, stepsOfCase, walkSteps } from './walk'

/** What Settings holds, by name; environments also by their other names. */
export type SetUp = {
  applications: ReadonlySet<string>
  databases: ReadonlySet<string>
  secrets: ReadonlySet<string>
  pictures: ReadonlySet<string>
  environments: ReadonlySet<string>
}

/** Everything that can be referred to. Without `setUp` nothing is said of what Settings holds. */
export type There = Pick<Library, 'case' | 'suite' | 'table' | 'allCases' | 'applications'> & {
  suites: ReadonlyMap<string, Suite>
  routines: ReadonlyMap<string, Routine>
  rotations: ReadonlyMap<string, Rotation>
  policies: ReadonlyMap<string, RecoveryPolicy>
  setUp?: SetUp
}
type Placed = { file: string; document: Definition }
type Report = (line: number, field: string, message: string, missing?: Missing) => void

/** Broken references of definitions. Definitions that have some are saved all the same.
 * @param checked the definitions that are looked at
 * @param there everything that exists, `checked` included */
export function brokenReferences(checked: readonly Placed[], there: There): FileProblem[] {
  const given = givenNames(there)
  return checked.flatMap(({ file, document }) => {
    const problems: FileProblem[] = []
    const report: Report = (line, field, message, missing) =>
      problems.push({ file, line, column: 1, field, message, ...(missing && { missing }) })
    if ('policy' in document && document.policy !== undefined && !there.policies.has(document.policy))
      report(1, 'policy', `the recovery policy “${document.policy}” is not there`)
    if (document.kind === 'suite') checkSuite(document, there, report)
    else if (document.kind === 'rotation') checkRotation(document, there, report)
    else if (document.kind === 'policy')
      checkSteps([...walkSteps(document.rules.flatMap((rule) => rule.do))], there, report)
    else if (document.kind === 'case') checkCase(document, there, given, report)
    else if (document.kind === 'routine') checkSteps(stepsOfCase(document), there, report)
    return problems
  })
}

function checkSuite({ entries, rule }: Suite, there: There, report: Report): void {
  checkRule(rule, 'rule', there, report)
  for (const { case: testCase, suite, data, with: values } of allEntries(entries)) {
    if (testCase && !there.case(testCase)) report(1, 'entries', `case “${testCase}” is not there`)
    if (suite && !there.suite(suite)) report(1, 'entries', `suite “${suite}” is not there`)
    if (data && !there.table(data)) report(1, 'entries', `the table “${data}” is not there`)
    checkSecrets(values, 1, 'entries', there, report)
  }
}

/** A rule that cannot be read is told where it is used. */
function checkRule(text: string | undefined, field: string, there: There, report: Report): void {
  const rule = text === undefined ? undefined : parseRule(text)
  if (!rule || 'message' in rule) return
  const facts = there.allCases().map((one) => ({ ...one, applications: there.applications(one) }))
  for (const words of unknownInRule(rule, facts)) report(1, field, words)
}

function checkRotation(rotation: Rotation, there: There, report: Report): void {
  const { what, where, before, after, follows, when } = rotation
  what.forEach((part, i) => {
    if ('suite' in part && !there.suite(part.suite))
      report(1, `what.${i}.suite`, `suite “${part.suite}” is not there`)
    if ('case' in part && !there.case(part.case))
      report(1, `what.${i}.case`, `case “${part.case}” is not there`)
    if ('rule' in part) checkRule(part.rule, `what.${i}.rule`, there, report)
  })
  where.environments?.forEach((key, i) => {
    if (there.setUp && !there.setUp.environments.has(key))
      report(1, `where.environments.${i}`, `there is no environment “${key}”`, {
        kind: 'environment',
        key,
      })
  })
  checkSecrets(rotation.with, 1, 'with', there, report)
  checkSteps([...walkSteps([...before, ...after])], there, report)
  if (follows && !there.rotations.has(follows.rotation))
    report(1, 'follows.rotation', `rotation “${follows.rotation}” is not there`)
  const circle = follows && circleOf(rotation, there.rotations)
  if (circle) report(1, 'follows.rotation', `they follow each other in a circle: ${circle.join(', then ')}`)
  when?.notWith.forEach((key, i) => {
    if (!there.rotations.has(key)) report(1, `when.notWith.${i}`, `rotation “${key}” is not there`)
  })
}

function checkCase(testCase: TestCase, there: There, given: ReadonlySet<string>, report: Report): void {
  const { entry, data, parameters } = testCase
  const steps = stepsOfCase(testCase)
  checkSteps(steps, there, report)
  checkSecrets(parameters, 1, 'parameters', there, report)
  if (entry && !there.routines.has(entry))
    report(1, 'entry', `no routine brings about the entry state “${entry}”`)
  const table = data === undefined ? undefined : there.table(data)
  if (data && !table) report(1, 'data', `the table “${data}” is not there`)
  for (const column of columnsOf(testCase))
    if (table && !table.columns.includes(column))
      report(1, 'data', `the table “${data}” has no column “${column}”`)
  const known = new Set([...given, ...Object.keys(parameters), ...testCase.needs, ...readIn(testCase, there)])
  const takes = new Set([...given, ...testCase.needs])
  const hasRows = data !== undefined || getsRows(testCase.key, there)
  for (const step of steps) {
    if (step.verb === 'signed-in' && step.does === 'take' && !takes.has(step.as))
      report(step.line ?? 1, step.verb, `“${step.as}” is none of the handoffs that the case takes`)
    for (const reference of ownReferences(step)) {
      const fault = faultOf(reference, known, hasRows)
      if (fault) report(step.line ?? 1, step.verb, fault)
    }
  }
}

/** @returns what is wrong with a reference, without its secrets and columns; `undefined` when it is known */
function faultOf(reference: string, known: ReadonlySet<string>, hasRows: boolean): string | undefined {
  if (reference.startsWith('row.'))
    return hasRows ? undefined : `\${${reference}} stands for nothing: the case has no table`
  if (/^(secret|fake)\.|^date\(/.test(reference)) return undefined
  if (GIVEN_NAMES.includes(reference) || known.has(reference)) return undefined
  return reference.includes('.')
    ? `\${${reference}} stands for nothing; there is ${GIVEN_NAMES.join(', ')}`
    : `\${${reference}} stands for nothing: it is no parameter, and no step reads it`
}

/** Names of the values that a case reads: by its own steps, and by those of the routines it uses. */
function readIn(testCase: TestCase, there: There): string[] {
  const names: string[] = []
  const seen = new Set<string>()
  const visit = (steps: Iterable<Step>): void => {
    for (const step of steps) {
      names.push(...readBy(step))
      if (step.verb === 'use') follow(step.routine)
    }
  }
  const follow = (key: string): void => {
    const routine = there.routines.get(key)
    if (!routine || seen.has(key)) return
    seen.add(key)
    visit(walkSteps(routine.steps))
  }
  if (testCase.entry !== undefined) follow(testCase.entry)
  visit(walkSteps([...partsOfCase(testCase), ...testCase.undo]))
  return names
}

/** Names that suites and rotations give to any of the cases in them. */
function givenNames({ suites, rotations }: There): Set<string> {
  const names = new Set<string>()
  for (const { entries } of suites.values())
    for (const { with: values } of allEntries(entries))
      for (const name of Object.keys(values)) names.add(name)
  for (const { with: values, before } of rotations.values()) {
    for (const name of Object.keys(values)) names.add(name)
    for (const step of walkSteps(before)) for (const name of handedOnBy(step)) names.add(name)
  }
  return names
}

/** Whether some suite runs the case over a table. */
const getsRows = (key: string, { suites }: There): boolean =>
  [...suites.values()].some(({ entries }) =>
    allEntries(entries).some((entry) => entry.case === key && entry.data !== undefined),
  )

function checkSteps(steps: readonly Step[], there: There, report: Report): void {
  for (const step of steps) {
    const line = step.line ?? 1
    if (step.verb === 'use') checkUse(step, there.routines.get(step.routine), report)
    const application = addressOf(step)?.split(':', 1)[0]
    if (application !== undefined && lacks(there.setUp?.applications, application))
      report(line, step.verb, `there is no application “${application}”`, {
        kind: 'application',
        key: application,
      })
    if (step.verb === 'query' && lacks(there.setUp?.databases, step.database))
      report(line, 'query', `there is no database “${step.database}”`, {
        kind: 'database',
        key: step.database,
      })
    for (const { picture } of targetsOf(step))
      if (picture !== undefined && lacks(there.setUp?.pictures, picture))
        report(line, step.verb, `there is no picture “${picture}”`, { kind: 'picture', key: picture })
    checkSecrets(
      ownReferences(step).map((reference) => `\${${reference}}`),
      line,
      step.verb,
      there,
      report,
    )
  }
}

/** A name that is put together only while the case runs is known then. */
const lacks = (names: ReadonlySet<string> | undefined, name: string): boolean =>
  names !== undefined && !name.includes('${') && !names.has(name)

function checkSecrets(value: unknown, line: number, field: string, there: There, report: Report): void {
  if (!there.setUp) return
  for (const reference of referencesIn(value)) {
    const name = reference.startsWith('secret.') ? reference.slice('secret.'.length) : undefined
    if (name !== undefined && !there.setUp.secrets.has(name))
      report(line, field, `there is no secret “${name}”`, { kind: 'secret', key: name })
  }
}

function checkUse(step: Extract<Step, { verb: 'use' }>, routine: Routine | undefined, report: Report): void {
  const line = step.line ?? 1
  if (!routine) return report(line, 'use', `routine “${step.routine}” is not there`)
  const known = Object.keys(routine.parameters)
  for (const name of Object.keys(step.with)) {
    if (!known.includes(name))
      report(
        line,
        'with',
        `routine “${step.routine}” has no parameter ` +
          `“${name}”${known.length > 0 ? `; it has ${known.join(', ')}` : ''}`,
      )
  }
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

/** Something that Settings does not have, and the keys of the cases that want it. */
export type Lacking = Missing & { cases: string[] }

/** What Settings would have to hold for these cases, with the routines they use. */
export function lackingFor(
  cases: readonly TestCase[],
  routines: ReadonlyMap<string, Routine>,
  setUp: SetUp,
): Lacking[] {
  const all = Object.fromEntries(routines)
  const found = new Map<string, Lacking>()
  for (const testCase of cases) {
    const { applications = [], databases, secrets, pictures } = reachOf(testCase, [], all)
    const wanted: Missing[] = [
      ...applications
        .filter((key) => lacks(setUp.applications, key))
        .map((key) => ({ kind: 'application' as const, key })),
      ...databases
        .filter((key) => lacks(setUp.databases, key))
        .map((key) => ({ kind: 'database' as const, key })),
      ...secrets.filter((key) => lacks(setUp.secrets, key)).map((key) => ({ kind: 'secret' as const, key })),
      ...pictures
        .filter((key) => lacks(setUp.pictures, key))
        .map((key) => ({ kind: 'picture' as const, key })),
    ]
    for (const one of wanted) {
      const id = `${one.kind} ${one.key}`
      const known = found.get(id)
      if (known) known.cases.push(testCase.key)
      else found.set(id, { ...one, cases: [testCase.key] })
    }
  }
  return [...found.values()]
}

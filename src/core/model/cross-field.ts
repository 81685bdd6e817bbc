/** What the schemas cannot say in a readable way: which parts need which others beside them. */
import { timesFaults } from '../calendar/faults'
import { parseRule } from './rules'
import { ruleFaults } from './policies'
import { queryProblem } from './queries'
import { PAGE_SUBJECTS, SCREEN_WAYS, SUBJECTS, TARGET_PLACES, TARGET_WAYS, type RuleCondition } from './types'
import { type DefinitionKind } from './definition'
import type { NetworkChange } from './network-change'

type Path = (string | number)[]
type Raw = Record<string, unknown>
export type CrossFieldProblem = { path: Path; message: string }

/** Problems of a document that its schema found nothing wrong with. */
export function crossFieldProblems(kind: Exclude<DefinitionKind, 'data'>, json: Raw): CrossFieldProblem[] {
  if (kind === 'rotation') return problemsOfRotation(json)
  if (kind === 'policy') return problemsOfPolicy(json)
  if (kind === 'suite') return problemsOfSuite(json)
  const problems = [...problemsOfSteps(json.steps, ['steps']), ...problemsOfSteps(json.undo, ['undo'])]
  if (kind === 'case') {
    if (!json.steps && !json.roles) problems.push({ path: [], message: '"steps" is missing' })
    if (json.steps && json.roles)
      problems.push({ path: ['roles'], message: 'a joint case has its steps in its roles' })
    for (const [name, role] of Object.entries((json.roles as Record<string, Raw> | undefined) ?? {}))
      problems.push(...problemsOfSteps(role.steps, ['roles', name, 'steps']))
  }
  return problems
}

/** Either of two fields has to be there, which a schema would say in riddles; told beside what the schema
 * says. */
export const isMissingBody = (kind: Exclude<DefinitionKind, 'data'>, json: unknown): boolean =>
  (kind === 'case' || kind === 'suite') &&
  json !== null &&
  typeof json === 'object' &&
  !(kind === 'case' ? ['steps', 'roles'] : ['entries', 'rule']).some((field) => field in json)

/** Ids are used once, expressions are ones. */
function problemsOfPolicy(json: Raw): CrossFieldProblem[] {
  const rules = json.rules as {
    rule: string
    when?: RuleCondition
    do?: Raw[]
    resume?: string
    wait?: unknown
  }[]
  return [
    ...ruleFaults(rules.map(({ rule, when = {} }) => ({ id: rule, when }))).map(
      ({ path, message }): CrossFieldProblem => ({
        path: ['rules', ...path.map((part) => (part === 'id' ? 'rule' : part))],
        message,
      }),
    ),
    ...rules.flatMap((rule, i) => problemsOfSteps(rule.do, ['rules', i, 'do'])),
  ]
}

/** Rules and times have to be ones: what is wrong with them stands at their field. */
function problemsOfRotation({
  rotation,
  what,
  before,
  after,
  where,
  when,
  follows,
}: Raw): CrossFieldProblem[] {
  const rules = (what as { rule?: string }[]).flatMap(({ rule }, i): CrossFieldProblem[] => {
    const read = rule === undefined ? undefined : parseRule(rule)
    return read && 'message' in read ? [{ path: ['what', i, 'rule'], message: read.message }] : []
  })
  return [
    ...rules,
    ...problemsOfSteps(before, ['before']),
    ...problemsOfSteps(after, ['after']),
    ...problemsOfWhere(where as Raw),
    ...problemsOfTimes(when as Raw | undefined),
    ...((follows as { rotation: string } | undefined)?.rotation === rotation
      ? [{ path: ['follows', 'rotation'], message: 'a rotation cannot follow itself' }]
      : []),
  ]
}

function problemsOfWhere({ environments, axes, spread, lanes }: Raw): CrossFieldProblem[] {
  if (environments !== undefined && axes !== undefined)
    return [{ path: ['where', 'axes'], message: 'environments are named, or picked by axes; not both' }]
  if (environments === undefined && axes === undefined)
    return [{ path: ['where'], message: 'no environment is named: give "environments" or "axes"' }]
  return lanes !== undefined && spread !== 'assigned'
    ? [{ path: ['where', 'lanes'], message: 'lanes belong to the spread "assigned"' }]
    : []
}

function problemsOfTimes(when: Raw | undefined): CrossFieldProblem[] {
  if (!when) return []
  const { missed: _, whileRunning: __, calendars: ___, notWith: ____, moves, ...times } = when
  const at = (path: string): Path => path.split('/').map((part) => (/^\d+$/.test(part) ? Number(part) : part))
  // A move is an exception and one more start: so its two moments are looked at as moments of those kinds.
  const moved = ((moves as { from: string; to: string }[] | undefined) ?? []).flatMap(({ from, to }, i) =>
    timesFaults({ timezone: times.timezone as string, start: times.start as string, except: [from, to] })
      .filter(({ path }) => path.startsWith('except'))
      .map(({ path, message }): CrossFieldProblem => ({
        path: ['when', 'moves', i, path === 'except/0' ? 'from' : 'to'],
        message,
      })),
  )
  return [
    ...timesFaults(times as never).map(({ path, message }) => ({ path: ['when', ...at(path)], message })),
    ...moved,
  ]
}

function problemsOfSuite(json: Raw): CrossFieldProblem[] {
  if (json.rule !== undefined && json.entries !== undefined)
    return [{ path: ['rule'], message: 'a suite has entries or a rule, not both' }]
  if (json.rule === undefined)
    return json.entries === undefined
      ? [{ path: [], message: '"entries" is missing' }]
      : problemsOfEntries(json.entries as Raw[], ['entries'])
  const rule = parseRule(json.rule as string)
  return 'message' in rule ? [{ path: ['rule'], message: rule.message }] : []
}

const problemsOfEntries = (entries: Raw[], path: Path): CrossFieldProblem[] =>
  entries.flatMap((entry, i) => {
    const here = [...path, i]
    const own: CrossFieldProblem[] = []
    if (entry.suite && entry.entries)
      own.push({ path: [...here, 'entries'], message: 'a suite has its entries in its own file' })
    if (entry.data && !entry.case) own.push({ path: [...here, 'data'], message: '"data" belongs to a case' })
    return [...own, ...problemsOfEntries((entry.entries as Raw[] | undefined) ?? [], [...here, 'entries'])]
  })

function problemsOfSteps(steps: unknown, path: Path): CrossFieldProblem[] {
  if (!Array.isArray(steps)) return []
  return steps.flatMap((step: Raw, i) => {
    const here = [...path, i]
    const own: CrossFieldProblem[] = []
    const nests = 'block' in step || 'if' in step || 'repeat' in step
    if (nests && !step.steps) own.push({ path: here, message: '"steps" is missing' })
    if (!nests && step.steps)
      own.push({ path: [...here, 'steps'], message: 'only block, if and repeat hold steps' })
    if (step.else && !('if' in step))
      own.push({ path: [...here, 'else'], message: '"else" belongs to an if' })
    if (step.with && !('use' in step))
      own.push({ path: [...here, 'with'], message: '"with" belongs to a use' })
    if (step.expect !== undefined && !('do' in step))
      own.push({ path: [...here, 'expect'], message: '"expect" beside a step belongs to a do' })
    const problem = step.query ? queryProblem(String((step.query as Raw).sql)) : undefined
    if (problem) own.push({ path: [...here, 'query', 'sql'], message: problem })
    if (!('call' in step) && !('query' in step)) own.push(...problemsOfTargets(step, here))
    if (step.check) own.push(...problemsOfCheck(step.check as Raw, [...here, 'check']))
    if (step.network) own.push(...problemsOfNetwork(step.network as Raw, [...here, 'network']))
    return [
      ...own,
      ...problemsOfSteps(step.steps, [...here, 'steps']),
      ...problemsOfSteps(step.else, [...here, 'else']),
    ]
  })
}

/** Targets that say where something is, and not what it is. */
function problemsOfTargets(value: unknown, path: Path): CrossFieldProblem[] {
  if (value === null || typeof value !== 'object') return []
  const fields = Object.keys(value)
  const isTarget = fields.length > 0 && fields.every((field) => TARGET_FIELDS.includes(field))
  const isLost = isTarget && !WAYS.some((way) => fields.includes(way))
  return [
    ...(isLost ? [{ path, message: `a target needs a way to find it: ${WAYS.join(', ')}` }] : []),
    ...Object.entries(value)
      .filter(([field]) => field !== 'steps' && field !== 'else')
      .flatMap(([field, inner]) => problemsOfTargets(inner, [...path, field])),
  ]
}
const WAYS: readonly string[] = [...TARGET_WAYS, ...SCREEN_WAYS]
const TARGET_FIELDS: readonly string[] = [...WAYS, ...TARGET_PLACES, 'name', 'match', 'number']

/** Which fields belong to what the network does. */
function problemsOfNetwork(network: Raw, path: Path): CrossFieldProblem[] {
  const does = network.does as NetworkChange['does']
  const needed: Partial<Record<NetworkChange['does'], string[]>> = {
    fail: ['requests'],
    answer: ['requests'],
    delay: ['requests', 'delay'],
  }
  const allowed = [...(needed[does] ?? []), ...(does === 'answer' ? ['status', 'type', 'body'] : [])]
  return [
    ...(needed[does] ?? [])
      .filter((field) => network[field] === undefined)
      .map((field) => ({ path, message: `"${field}" is missing: “${does}” needs it` })),
    ...Object.keys(network)
      .filter((field) => field !== 'does' && !allowed.includes(field))
      .map((field) => ({ path: [...path, field], message: `"${field}" does not belong to “${does}”` })),
  ]
}

function problemsOfCheck(check: Raw, path: Path): CrossFieldProblem[] {
  const named = SUBJECTS.filter((subject) => subject in check)
  if (named.length !== 1)
    return [{ path, message: `a check compares exactly one of: ${SUBJECTS.join(', ')}` }]
  if (!PAGE_SUBJECTS.includes(named[0]!) && !check.of)
    return [{ path, message: '"of" is missing: what is looked at' }]
  return check.ignore && named[0] !== 'screen'
    ? [{ path: [...path, 'ignore'], message: '"ignore" belongs to a check of a screen' }]
    : []
}

/** From a definition back to the text of its file. Reading that text gives the same definition. */
import { Document, isMap, isSeq, type Node, type YAMLSeq } from 'yaml'
import { policyForm } from './policies'
import { rotationForm } from './rotations'
import { writeDataSet } from './tables'
import type { RecoveryPolicy, Routine, Step, Suite, SuiteEntry, TestCase } from './types'
import type { Rotation } from './rotation-types'
import type { Definition } from './definition'
import { durationText } from './durations'
import { writeVerb } from './verbs'

type Raw = Record<string, unknown>

/** A definition in the form its file has, keys in the order people write them; what is as usual is left
 * out. */
export function fileForm(definition: Exclude<Definition, { kind: 'data' }>): Raw {
  return {
    case: caseForm,
    routine: routineForm,
    suite: suiteForm,
    rotation: (rotation: Rotation) => rotationForm(rotation, stepForm),
    policy: (policy: RecoveryPolicy) => policyForm(policy, stepForm),
  }[definition.kind](definition as never)
}

/** The text of a file of its kind. */
export function writeDefinition(definition: Definition): string {
  if (definition.kind === 'data') return writeDataSet(definition)
  const doc = new Document()
  doc.contents = nodeOf(doc as never, fileForm(definition)) as never
  return textOf(doc as never)
}

/** Options that keep a document as a person writes it: no folding, room inside braces. */
export const textOf = (doc: Document, layout: { indent?: number; indentSeq?: boolean } = {}): string =>
  doc.toString({ lineWidth: 0, ...layout })

/** Lists of steps and entries stand one a line; what belongs to one step stands in braces. */
const TALL = new Set([
  'steps',
  'else',
  'undo',
  'entries',
  'roles',
  'when',
  'what',
  'before',
  'after',
  'where',
  'how',
  'do',
])
/** The conditions of a recovery rule are one thing; the times of a rotation are many. */
const TALL_IN_RULES = new Set([...TALL].filter((name) => name !== 'when'))

/** A value as nodes of a document, laid out as people write these files. */
export function nodeOf(doc: Document, value: unknown): Node {
  // the same object at two places is written twice: an alias is no field that a form could show
  const node = doc.createNode(value, { aliasDuplicateObjects: false })
  layOut(node)
  return node
}

function layOut(node: unknown, tall: ReadonlySet<string> = TALL): void {
  if (isSeq(node)) for (const item of node.items) layOut(item, tall)
  if (!isMap(node)) return
  for (const { key, value } of node.items) {
    const name = String((key as { value?: unknown }).value ?? key)
    if (name === 'rules') layOut(value, TALL_IN_RULES)
    else if (tall.has(name)) {
      if (isMap(value)) for (const role of value.items) layOut(role.value)
      else layOut(value)
    } else if (isMap(value) || isSeq(value)) value.flow = true
  }
}

const given = (fields: Raw): Raw =>
  Object.fromEntries(
    Object.entries(fields).filter(([, value]) => value !== undefined && value !== false && !isEmpty(value)),
  )
const isEmpty = (value: unknown) =>
  typeof value === 'object' && value !== null && Object.keys(value).length === 0
const duration = (ms: number | undefined) => (ms === undefined ? undefined : durationText(ms))

function caseForm({
  key,
  title,
  tags,
  priority,
  requires,
  entry,
  parameters,
  data,
  uses,
  needs,
  limitMs,
  policy,
  steps,
  undo,
  roles,
}: TestCase): Raw {
  const rolesForm =
    roles &&
    Object.fromEntries(
      Object.entries(roles).map(([name, role]) => [
        name,
        given({ environment: role.environment, steps: role.steps.map(stepForm) }),
      ]),
    )
  return given({
    case: key,
    title,
    tags,
    priority: priority === 'normal' ? undefined : priority,
    requires,
    entry,
    parameters,
    data,
    uses,
    needs,
    limit: duration(limitMs),
    policy,
    steps: steps.map(stepForm),
    undo: undo.map(stepForm),
    roles: rolesForm,
  })
}
const routineForm = ({ key, title, parameters, steps, undo }: Routine): Raw =>
  given({ routine: key, title, parameters, steps: steps.map(stepForm), undo: undo.map(stepForm) })
const suiteForm = ({ key, title, rule, policy, entries }: Suite): Raw => ({
  suite: key,
  title,
  ...(policy !== undefined && { policy }),
  ...(rule === undefined ? { entries: entries.map(entryForm) } : { rule }),
})

function entryForm({ off, repeat, limitMs, after, entries, onFailure, ...entry }: SuiteEntry): Raw {
  const { case: key, suite, group, name, data } = entry
  return given({
    case: key,
    suite,
    group,
    name,
    off,
    repeat: repeat === 1 ? undefined : repeat,
    limit: duration(limitMs),
    with: entry.with,
    data,
    after,
    onFailure,
    entries: entries.map(entryForm),
  })
}

/** One step in file form: its verb, what stands beside it, and the fields any step may have. */
export function stepForm(step: Step): Raw {
  const { id, off, tag, limitMs, capture, because } = step
  return {
    ...writeVerb(step, (inner) => inner.map(stepForm)),
    ...given({ id, off, tag, limit: duration(limitMs), capture, because }),
  }
}

/** Steps as lines of a file, without what is around them; empty for none. */
export function stepsText(steps: readonly Step[]): string {
  if (steps.length === 0) return ''
  const doc = new Document()
  const list = doc.createNode(steps.map(stepForm), { aliasDuplicateObjects: false }) as YAMLSeq
  layOut(list)
  doc.contents = list as never
  return textOf(doc as never).trimEnd()
}

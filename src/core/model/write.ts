/** From a definition back to the text of its file. Reading that text gives the same definition. */
import { Document, isMap, isSeq, type Node, type YAMLSeq } from 'yaml'
import { policyForm } from './policies'
import { rotationForm } from './rotations'
import { writeDataSet } from './tables'
import type { Matcher, RecoveryPolicy, Routine, Step, Suite, SuiteEntry, TestCase } from './types'
import type { Rotation } from './rotation-types'
import type { Definition } from './definition'
import { durationText } from './durations'

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
  const node = doc.createNode(value)
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
  return { ...verbForm(step), ...given({ id, off, tag, limit: duration(limitMs), capture, because }) }
}

function verbForm(step: Step): Raw {
  switch (step.verb) {
    case 'open':
      return { open: step.address }
    case 'click':
    case 'hover':
      return { [step.verb]: { on: step.on } }
    case 'type':
    case 'choose':
      return { [step.verb]: { in: step.in, value: step.value } }
    case 'press':
      return { press: given({ key: step.key, on: step.on }) }
    case 'drag':
      return { drag: { from: step.from, to: step.to } }
    case 'upload':
      return { upload: { in: step.in, name: step.name, text: step.text } }
    case 'scroll':
      return { scroll: given({ to: step.to, by: step.by }) }
    case 'wait':
      return {
        wait: given({
          for: step.for,
          state: step.state === 'visible' && step.for === undefined ? undefined : step.state,
          time: step.timeMs === undefined ? undefined : duration(step.timeMs),
        }),
      }
    case 'read':
      return { read: given({ of: step.of, as: step.as, handoff: step.handoff }) }
    case 'check':
      return {
        check: {
          ...given({ of: step.of }),
          [step.subject]: expectedForm(step),
          ...given({ ignore: step.ignore, soft: step.soft }),
        },
      }
    case 'call':
      return {
        call: {
          method: step.method,
          url: step.url,
          ...given({ headers: step.headers }),
          ...(step.body !== undefined && { body: step.body }),
          ...given({ expect: step.expect, read: step.read, handoff: step.handoff }),
        },
      }
    case 'query':
      return {
        query: {
          database: step.database,
          sql: step.sql,
          ...given({ values: step.values, expect: step.expect, read: step.read }),
        },
      }
    case 'use':
      return { use: step.routine, ...given({ with: step.with }) }
    case 'block':
      return { block: step.title, steps: step.steps.map(stepForm) }
    case 'if':
      return {
        if: { [step.visible ? 'visible' : 'hidden']: step.target },
        steps: step.steps.map(stepForm),
        ...given({ else: step.otherwise.map(stepForm) }),
      }
    case 'repeat':
      return {
        repeat: given({ times: step.times, whileVisible: step.whileVisible }),
        steps: step.steps.map(stepForm),
      }
    case 'meet':
      return { meet: step.point }
    case 'dialog':
      return { dialog: { answer: step.answer, ...(step.text !== undefined && { text: step.text }) } }
    case 'note':
      return { note: step.text }
    case 'do':
      return { do: step.words, ...(step.expected !== undefined && { expect: step.expected }) }
  }
}

function expectedForm(step: Extract<Step, { verb: 'check' }>): unknown {
  if (step.subject === 'state') return step.state
  if (step.subject === 'screen') return step.screen
  const matcher: Matcher = step.matcher ?? {}
  return step.subject === 'attribute' ? { name: step.attribute, ...matcher } : matcher
}

/** Steps as lines of a file, without what is around them; empty for none. */
export function stepsText(steps: readonly Step[]): string {
  if (steps.length === 0) return ''
  const doc = new Document()
  const list = doc.createNode(steps.map(stepForm)) as YAMLSeq
  layOut(list)
  doc.contents = list as never
  return textOf(doc as never).trimEnd()
}

/** What can be edited of each verb, and what a new step of it begins with. */
import type { Step, Target, Verb } from '@/core/model'
import type { Path } from '@/core/model/editing'

export type FieldKind =
  | 'target'
  | 'text'
  | 'long'
  | 'number'
  | 'duration'
  | 'state'
  | 'answer'
  | 'method'
  | 'flag'
  | 'values'
  | 'routine'
  | 'check'
  | 'json'
  | 'list'
/** `path` leads from the step to the field, in file form. */
export type StepField = { path: Path; label: string; kind: FieldKind; hint?: string }

const on = (verb: Verb): StepField => ({ path: [verb, 'on'], label: 'On', kind: 'target' })
const within = (verb: Verb): StepField => ({ path: [verb, 'in'], label: 'In', kind: 'target' })

export const STEP_FIELDS: Record<Verb, StepField[]> = {
  open: [{ path: ['open'], label: 'Address', kind: 'text', hint: 'application:/path' }],
  click: [on('click')],
  type: [within('type'), { path: ['type', 'value'], label: 'Text', kind: 'text' }],
  choose: [
    within('choose'),
    { path: ['choose', 'value'], label: 'Choice', kind: 'text', hint: 'of a list, or yes and no for a tick' },
  ],
  press: [{ path: ['press', 'key'], label: 'Key', kind: 'text', hint: 'Enter, Tab, Control+A' }, on('press')],
  hover: [on('hover')],
  drag: [
    { path: ['drag', 'from'], label: 'From', kind: 'target' },
    { path: ['drag', 'to'], label: 'To', kind: 'target' },
  ],
  upload: [
    within('upload'),
    { path: ['upload', 'name'], label: 'File name', kind: 'text' },
    { path: ['upload', 'text'], label: 'Its text', kind: 'long' },
  ],
  scroll: [
    { path: ['scroll', 'to'], label: 'To', kind: 'target' },
    { path: ['scroll', 'by'], label: 'or by pixels', kind: 'number' },
  ],
  wait: [
    { path: ['wait', 'for'], label: 'For', kind: 'target' },
    { path: ['wait', 'state'], label: 'Until it is', kind: 'state' },
    { path: ['wait', 'time'], label: 'or a time', kind: 'duration' },
  ],
  read: [
    { path: ['read', 'of'], label: 'Of', kind: 'target' },
    { path: ['read', 'as'], label: 'As', kind: 'text' },
    { path: ['read', 'handoff'], label: 'Handed on to other cases', kind: 'flag' },
  ],
  check: [{ path: ['check'], label: 'Check', kind: 'check' }],
  call: [
    { path: ['call', 'method'], label: 'Method', kind: 'method' },
    { path: ['call', 'url'], label: 'Address', kind: 'text', hint: 'application:/path' },
    { path: ['call', 'body'], label: 'Body', kind: 'json' },
    { path: ['call', 'expect', 'status'], label: 'Expected status', kind: 'number' },
    { path: ['call', 'read'], label: 'Read as', kind: 'values', hint: 'name, and its JSON path' },
  ],
  query: [
    { path: ['query', 'database'], label: 'Database', kind: 'text' },
    { path: ['query', 'sql'], label: 'Statement', kind: 'long', hint: 'values as $1, $2' },
    { path: ['query', 'values'], label: 'Values', kind: 'list' },
    { path: ['query', 'expect', 'rows'], label: 'Expected rows', kind: 'number' },
    { path: ['query', 'read'], label: 'Read as', kind: 'values', hint: 'name, and its column' },
  ],
  use: [{ path: ['use'], label: 'Routine', kind: 'routine' }],
  block: [{ path: ['block'], label: 'Title', kind: 'text' }],
  if: [
    { path: ['if', 'visible'], label: 'If visible', kind: 'target' },
    { path: ['if', 'hidden'], label: 'or if not visible', kind: 'target' },
  ],
  repeat: [
    { path: ['repeat', 'times'], label: 'Times', kind: 'number' },
    { path: ['repeat', 'whileVisible'], label: 'or while visible', kind: 'target' },
  ],
  meet: [{ path: ['meet'], label: 'Meeting point', kind: 'text' }],
  dialog: [
    { path: ['dialog', 'answer'], label: 'Answer the next dialog with', kind: 'answer' },
    { path: ['dialog', 'text'], label: 'Text', kind: 'text' },
  ],
  note: [{ path: ['note'], label: 'Words', kind: 'long' }],
  do: [
    { path: ['do'], label: 'What a person does', kind: 'long' },
    { path: ['expect'], label: 'and should see', kind: 'text' },
  ],
}

/** Fields of any step. */
export const COMMON_FIELDS: StepField[] = [
  { path: ['because'], label: 'Because', kind: 'text', hint: 'said in the log' },
  { path: ['tag'], label: 'Tag', kind: 'text' },
  { path: ['limit'], label: 'Limit', kind: 'duration' },
]

const TARGET: Target = { role: 'button', name: 'Continue' }
const FIELD: Target = { label: 'Name' }

/** What a step acts on or looks at, whatever its verb calls it. */
function targetOf(step: Step): Target | undefined {
  if ('on' in step) return step.on
  if ('in' in step) return step.in
  if ('of' in step) return step.of
  return 'for' in step ? step.for : undefined
}

/** A new step in file form. @param from an older step: what both verbs have is carried over */
export function newStep(verb: Verb, from?: Step): Record<string, unknown> {
  const old = from && targetOf(from)
  const value = from && 'value' in from ? from.value : ''
  const [target, field] = [old ?? TARGET, old ?? FIELD]
  const fresh: Record<Verb, Record<string, unknown>> = {
    open: { open: 'booking:/' },
    click: { click: { on: target } },
    type: { type: { in: field, value } },
    choose: { choose: { in: field, value: value || 'yes' } },
    press: { press: { key: 'Enter', ...(old && { on: old }) } },
    hover: { hover: { on: target } },
    drag: { drag: { from: target, to: FIELD } },
    upload: { upload: { in: field, name: 'list.csv', text: 'reference\n' } },
    scroll: { scroll: { to: target } },
    wait: { wait: { for: target, state: 'visible' } },
    read: { read: { of: old ?? { testId: 'reference' }, as: 'reference' } },
    check: { check: { of: target, state: 'visible' } },
    call: { call: { method: 'GET', url: 'booking:/api/sailings', expect: { status: 200 } } },
    query: { query: { database: 'manifest', sql: 'select 1', expect: { rows: 1 } } },
    use: { use: 'routine' },
    block: { block: 'Block', steps: [{ note: 'Nothing here yet' }] },
    if: { if: { visible: target }, steps: [{ click: { on: target } }] },
    repeat: { repeat: { times: 2 }, steps: [{ click: { on: target } }] },
    meet: { meet: 'meeting-point' },
    dialog: { dialog: { answer: 'accept' } },
    note: { note: 'A note' },
    do: { do: 'Look at the page', expect: 'what it shows' },
  }
  return fresh[verb]
}

/** In the order of how often they are wanted. */
export const VERB_ORDER: Verb[] = [
  'click',
  'type',
  'choose',
  'check',
  'open',
  'press',
  'wait',
  'read',
  'use',
  'block',
  'if',
  'repeat',
  'call',
  'query',
  'hover',
  'drag',
  'upload',
  'scroll',
  'dialog',
  'note',
  'do',
  'meet',
]

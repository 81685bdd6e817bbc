/** Verbs that hold other steps, bring roles together, or are for people. */
import { durationText, parseDurationMs } from '../durations'
import { DURATION, KEY, object, PARAMETERS, ref, TEXT, VALUE } from '../schema-parts'
import { describeMatcher, describeTarget } from '../sentences'
import type { Condition, Matcher, Target } from '../types'
import type { VerbDefinition } from './definition'

const STEPS = { steps: ref('steps') }
const LONG_TEXT = { type: 'string', minLength: 1, maxLength: 1000 }
const BUTTON: Target = { role: 'button', name: 'Continue' }
const spoken = (key: string) => key.replaceAll('-', ' ')

export const use: VerbDefinition<'use'> = {
  schema: KEY,
  beside: { with: PARAMETERS },
  read: (form) => ({
    routine: form.use as string,
    with: Object.fromEntries(
      Object.entries((form.with as object | undefined) ?? {}).map(([name, value]) => [name, String(value)]),
    ),
  }),
  write: (step) => ({ use: step.routine, ...(Object.keys(step.with).length > 0 && { with: step.with }) }),
  describe: (step) => ({
    object: spoken(step.routine),
    detail: Object.entries(step.with)
      .map(([name, value]) => `${name} ${value}`)
      .join(', '),
  }),
  purpose: 'a routine',
  fields: [{ path: ['use'], label: 'Routine', kind: 'routine' }],
  fresh: () => ({ use: 'routine' }),
}

export const block: VerbDefinition<'block'> = {
  schema: TEXT,
  beside: STEPS,
  read: (form, steps) => ({ title: form.block as string, steps: steps('steps') }),
  write: (step, steps) => ({ block: step.title, steps: steps(step.steps) }),
  describe: (step) => ({ verb: '', object: step.title }),
  purpose: 'steps under a title',
  fields: [{ path: ['block'], label: 'Title', kind: 'text' }],
  fresh: () => ({ block: 'Block', steps: [{ note: 'Nothing here yet' }] }),
}

const CONDITION = {
  ...object({ visible: ref('target'), hidden: ref('target'), value: VALUE, is: ref('matcher') }),
  oneOf: [{ required: ['visible'] }, { required: ['hidden'] }, { required: ['value'] }],
  dependencies: { value: ['is'], is: ['value'] },
}

function readCondition(form: Record<string, unknown>): Condition {
  return 'value' in form
    ? { value: String(form.value), is: form.is as Matcher }
    : (form as { visible: Target } | { hidden: Target })
}

function conditionWords(condition: Condition): string {
  if ('value' in condition) return `${condition.value} ${describeMatcher(condition.is)}`
  return 'visible' in condition
    ? `${describeTarget(condition.visible)} is visible`
    : `${describeTarget(condition.hidden)} is not visible`
}

export const branch: VerbDefinition<'if'> = {
  schema: CONDITION,
  beside: { ...STEPS, else: ref('steps') },
  read: (form, steps) => ({
    condition: readCondition(form.if as Record<string, unknown>),
    steps: steps('steps'),
    otherwise: steps('else'),
  }),
  write: (step, steps) => ({
    if: step.condition,
    steps: steps(step.steps),
    ...(step.otherwise.length > 0 && { else: steps(step.otherwise) }),
  }),
  describe: ({ condition }) =>
    'value' in condition
      ? { object: condition.value, detail: describeMatcher(condition.is) }
      : {
          object: describeTarget('visible' in condition ? condition.visible : condition.hidden),
          detail: 'visible' in condition ? 'is visible' : 'is not visible',
        },
  purpose: 'steps on a condition',
  fields: [
    { path: ['if', 'visible'], label: 'If visible', kind: 'target' },
    { path: ['if', 'hidden'], label: 'or if not visible', kind: 'target' },
    { path: ['if', 'value'], label: 'or if this', kind: 'text', hint: 'a value: ${fare}' },
    { path: ['if', 'is'], label: 'is', kind: 'matcher' },
  ],
  fresh: ({ target = BUTTON }) => ({ if: { visible: target }, steps: [{ click: { on: target } }] }),
}

type RepeatForm = {
  times?: number
  whileVisible?: Target
  until?: Record<string, unknown>
  wait?: string | number
}

export const repeat: VerbDefinition<'repeat'> = {
  schema: {
    ...object({
      times: { type: 'integer', minimum: 1, maximum: 1000 },
      whileVisible: ref('target'),
      until: CONDITION,
      wait: DURATION,
    }),
    minProperties: 1,
    dependencies: { wait: ['until'] },
  },
  beside: STEPS,
  read(form, steps) {
    const { until, wait, ...rest } = form.repeat as RepeatForm
    return {
      ...rest,
      ...(until && { until: readCondition(until) }),
      ...(wait !== undefined && { waitMs: parseDurationMs(wait)! }),
      steps: steps('steps'),
    }
  },
  write: ({ times, whileVisible, until, waitMs, steps: inner }, steps) => ({
    repeat: {
      ...(times !== undefined && { times }),
      ...(whileVisible && { whileVisible }),
      ...(until && { until }),
      ...(waitMs !== undefined && { wait: durationText(waitMs) }),
    },
    steps: steps(inner),
  }),
  describe({ times, whileVisible, until }) {
    const most = times !== undefined && `at most ${times} times`
    const asLong = whileVisible && `while ${describeTarget(whileVisible)} is visible`
    const then = until && `until ${conditionWords(until)}`
    if (!asLong && !then) return { object: `${times} times` }
    return { object: [asLong, then].filter(Boolean).join(' and '), detail: most || '' }
  },
  purpose: 'steps several times',
  fields: [
    { path: ['repeat', 'times'], label: 'Times', kind: 'number', hint: 'at most, where it ends before' },
    { path: ['repeat', 'whileVisible'], label: 'While visible', kind: 'target' },
    { path: ['repeat', 'until', 'visible'], label: 'Until visible', kind: 'target' },
    { path: ['repeat', 'until', 'hidden'], label: 'or until not visible', kind: 'target' },
    { path: ['repeat', 'until', 'value'], label: 'or until this', kind: 'text', hint: 'a value: ${state}' },
    { path: ['repeat', 'until', 'is'], label: 'is', kind: 'matcher' },
    { path: ['repeat', 'wait'], label: 'Each time it has', kind: 'duration' },
  ],
  fresh: ({ target = BUTTON }) => ({ repeat: { times: 2 }, steps: [{ click: { on: target } }] }),
}

export const meet: VerbDefinition<'meet'> = {
  schema: KEY,
  read: (form) => ({ point: form.meet as string }),
  write: (step) => ({ meet: step.point }),
  describe: (step) => ({ object: spoken(step.point) }),
  purpose: 'the other roles of a joint case',
  fields: [{ path: ['meet'], label: 'Meeting point', kind: 'text' }],
  fresh: () => ({ meet: 'meeting-point' }),
}

export const note: VerbDefinition<'note'> = {
  schema: LONG_TEXT,
  read: (form) => ({ text: form.note as string }),
  write: (step) => ({ note: step.text }),
  describe: (step) => ({ object: step.text }),
  purpose: 'words for the log',
  fields: [{ path: ['note'], label: 'Words', kind: 'long' }],
  fresh: () => ({ note: 'A note' }),
}

/** A step that a person carries out. */
export const byPerson: VerbDefinition<'do'> = {
  schema: LONG_TEXT,
  beside: {
    expect: { type: 'string', maxLength: 1000, description: 'what a person should see after a do' },
  },
  read: (form) => ({
    words: form.do as string,
    ...(form.expect !== undefined && { expected: form.expect as string }),
  }),
  write: ({ words, expected }) => ({ do: words, ...(expected !== undefined && { expect: expected }) }),
  describe: ({ words, expected }) => ({ object: words, detail: expected ? `expect ${expected}` : '' }),
  purpose: 'by a person, in a live session',
  fields: [
    { path: ['do'], label: 'What a person does', kind: 'long' },
    { path: ['expect'], label: 'and should see', kind: 'text' },
  ],
  fresh: () => ({ do: 'Look at the page', expect: 'what it shows' }),
}

/** Verbs that look at the page and leave it as it is. */
import { parseDurationMs, describeDuration, durationText } from '../durations'
import { DURATION, NAME, object, ref, TEXT } from '../schema-parts'
import { describeMatcher, describeTarget } from '../sentences'
import {
  ELEMENT_STATES,
  SUBJECTS,
  type ElementState,
  type Matcher,
  type StepOf,
  type Subject,
  type Target,
} from '../types'
import type { VerbDefinition } from './definition'

const STATE = { enum: [...ELEMENT_STATES] }

export const wait: VerbDefinition<'wait'> = {
  schema: { ...object({ for: ref('target'), state: STATE, time: DURATION }), minProperties: 1 },
  read(form) {
    const { time, state, ...rest } = form.wait as { for?: Target; state?: ElementState; time?: string }
    return {
      ...rest,
      state: state ?? 'visible',
      ...(time !== undefined && { timeMs: parseDurationMs(time)! }),
    }
  },
  write: (step) => ({
    wait: {
      ...(step.for && { for: step.for }),
      ...((step.for || step.state !== 'visible') && { state: step.state }),
      ...(step.timeMs !== undefined && { time: durationText(step.timeMs) }),
    },
  }),
  describe: (step) =>
    step.for
      ? { object: describeTarget(step.for), detail: `until ${step.state}` }
      : { object: describeDuration(step.timeMs ?? 0) },
  purpose: 'for something, or a time',
  fields: [
    { path: ['wait', 'for'], label: 'For', kind: 'target' },
    { path: ['wait', 'state'], label: 'Until it is', kind: 'state' },
    { path: ['wait', 'time'], label: 'or a time', kind: 'duration' },
  ],
  fresh: ({ target = { role: 'button', name: 'Continue' } }) => ({
    wait: { for: target, state: 'visible' },
  }),
  targets: (step) => [step.for],
  onScreen: true,
}

export const read: VerbDefinition<'read'> = {
  schema: object(
    {
      of: ref('target'),
      as: NAME,
      pick: {
        type: 'string',
        format: 'expression',
        minLength: 1,
        maxLength: 500,
        description: 'a regular expression in RE2 syntax',
      },
      handoff: { type: 'boolean' },
    },
    ['of', 'as'],
  ),
  read: (form) => ({ handoff: false, ...(form.read as Omit<StepOf<'read'>, 'verb' | 'handoff'>) }),
  write: (step) => ({
    read: {
      of: step.of,
      as: step.as,
      ...(step.pick !== undefined && { pick: step.pick }),
      ...(step.handoff && { handoff: true }),
    },
  }),
  describe: (step) => ({
    object: describeTarget(step.of),
    detail: `as ${step.as}${step.handoff ? ', handed on' : ''}`,
  }),
  purpose: 'a value for later',
  fields: [
    { path: ['read', 'of'], label: 'Of', kind: 'target' },
    { path: ['read', 'as'], label: 'As', kind: 'text' },
    {
      path: ['read', 'pick'],
      label: 'Only',
      kind: 'text',
      hint: 'a regular expression: its group, or all it finds',
    },
    { path: ['read', 'handoff'], label: 'Handed on to other cases', kind: 'flag' },
  ],
  fresh: ({ target = { testId: 'reference' } }) => ({ read: { of: target, as: 'reference' } }),
  targets: (step) => [step.of],
  reads: (step) => [step.as],
  handsOn: (step) => (step.handoff ? [step.as] : []),
  onScreen: true,
}

const PAGE_WORDS: Partial<Record<Subject, string>> = {
  url: 'address',
  title: 'page title',
  download: 'downloaded file',
  dialog: 'dialog',
}

export const check: VerbDefinition<'check'> = {
  schema: object({
    of: ref('target'),
    text: ref('matcher'),
    value: ref('matcher'),
    count: ref('matcher'),
    url: ref('matcher'),
    title: ref('matcher'),
    download: ref('matcher'),
    dialog: ref('matcher'),
    attribute: ref('attribute'),
    state: STATE,
    screen: TEXT,
    ignore: { type: 'array', items: ref('target'), minItems: 1 },
    soft: { type: 'boolean' },
  }),
  read: (form) => readCheck(form.check as CheckForm),
  write: (step) => ({
    check: {
      ...(step.of && { of: step.of }),
      [step.subject]: expectedForm(step),
      ...(step.ignore && step.ignore.length > 0 && { ignore: step.ignore }),
      ...(step.soft && { soft: true }),
    },
  }),
  describe: (step) => ({
    object: step.of ? describeTarget(step.of) : (PAGE_WORDS[step.subject] ?? step.subject),
    detail: describeCheck(step),
  }),
  purpose: 'that something is so',
  fields: [{ path: ['check'], label: 'Check', kind: 'check' }],
  fresh: ({ target = { role: 'button', name: 'Continue' } }) => ({
    check: { of: target, state: 'visible' },
  }),
  targets: (step) => [step.of],
  onScreen: true,
}

type CheckForm = {
  of?: Target
  state?: ElementState
  soft?: boolean
  attribute?: { name: string } & Matcher
  screen?: string
  ignore?: Target[]
} & Partial<Record<Subject, unknown>>

function readCheck(form: CheckForm): Omit<StepOf<'check'>, 'verb'> {
  const subject = SUBJECTS.find((name) => name in form)!
  const base = { ...(form.of && { of: form.of }), subject, soft: form.soft ?? false }
  if (subject === 'state') return { ...base, state: form.state! }
  if (subject === 'screen')
    return { ...base, screen: form.screen!, ...(form.ignore && { ignore: form.ignore }) }
  if (subject === 'attribute') {
    const { name, ...matcher } = form.attribute!
    return { ...base, attribute: name, matcher }
  }
  return { ...base, matcher: form[subject] as Matcher }
}

function expectedForm({ subject, state, screen, attribute, matcher = {} }: StepOf<'check'>): unknown {
  if (subject === 'state') return state
  if (subject === 'screen') return screen
  return subject === 'attribute' ? { name: attribute, ...matcher } : matcher
}

function describeCheck(step: StepOf<'check'>): string {
  const soft = step.soft ? ', goes on if not' : ''
  if (step.subject === 'state') return `is ${step.state}${soft}`
  if (step.subject === 'screen') return `looks like ${step.screen}${soft}`
  const spoken = step.of !== undefined && step.subject !== 'text'
  const named = spoken ? `${step.subject} ` : ''
  const subject = step.subject === 'attribute' ? `${step.attribute} ` : named
  return `${subject}${describeMatcher(step.matcher ?? {})}${soft}`
}

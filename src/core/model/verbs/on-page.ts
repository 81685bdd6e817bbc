/** Verbs that do something to the page, as a person would. */
import { describeDuration, durationText, parseDurationMs } from '../durations'
import { DURATION, object, ref, TEXT, VALUE } from '../schema-parts'
import { describeTarget } from '../sentences'
import {
  FILE_ENCODINGS,
  FILE_TEXT_MOST,
  HELD_KEYS,
  MOUSE_BUTTONS,
  WAYS_TO_GO,
  WINDOW_CHOICES,
  type Clicking,
  type HeldKey,
  type MouseButton,
  type StepOf,
  type Target,
  type Verb,
  type WayToGo,
  type WindowChoice,
} from '../types'
import type { StepField, VerbDefinition } from './definition'

const on = (verb: Verb): StepField => ({ path: [verb, 'on'], label: 'On', kind: 'target' })
const within = (verb: Verb): StepField => ({ path: [verb, 'in'], label: 'In', kind: 'target' })

/** Stand in a new step until another target is chosen. */
const BUTTON: Target = { role: 'button', name: 'Continue' }
const INPUT: Target = { label: 'Name' }

const ADDRESS = { type: 'string', pattern: '^[a-z][a-z0-9-]*:/' }
const behind = <T>(form: Record<string, unknown>, verb: Verb) => form[verb] as T

export const open: VerbDefinition<'open'> = {
  schema: ADDRESS,
  read: (form) => ({ address: behind(form, 'open') }),
  write: ({ address }) => ({ open: address }),
  describe: ({ address }) => ({
    object: address.split(':')[0]!,
    detail: address.slice(address.indexOf(':') + 1),
  }),
  purpose: 'a page',
  fields: [{ path: ['open'], label: 'Address', kind: 'text', hint: 'application:/path' }],
  fresh: ({ application }) => ({ open: `${application}:/` }),
  changesPage: true,
  onScreen: true,
  address: ({ address }) => address,
}

const GONE_WORDS: Record<WayToGo, string> = {
  back: 'back',
  forward: 'forward',
  reload: 'the page again',
}

export const go: VerbDefinition<'go'> = {
  schema: { enum: [...WAYS_TO_GO] },
  read: (form) => ({ to: behind(form, 'go') }),
  write: ({ to }) => ({ go: to }),
  describe: ({ to }) => ({ ...(to === 'reload' && { verb: 'load' }), object: GONE_WORDS[to] }),
  purpose: 'back, forward, or load the page again',
  fields: [{ path: ['go'], label: 'Where', kind: 'choice', choices: WAYS_TO_GO }],
  fresh: () => ({ go: 'back' }),
  changesPage: true,
  onScreen: true,
}

type ClickForm = { on: Target; times?: number; button?: MouseButton; with?: HeldKey[]; hold?: string }

export const click: VerbDefinition<'click'> = {
  schema: object(
    {
      on: ref('target'),
      times: { type: 'integer', minimum: 1, maximum: 10 },
      button: { enum: [...MOUSE_BUTTONS] },
      with: { type: 'array', items: { enum: [...HELD_KEYS] }, minItems: 1, uniqueItems: true },
      hold: DURATION,
    },
    ['on'],
  ),
  read(form) {
    const { hold, ...rest } = behind<ClickForm>(form, 'click')
    return { ...rest, ...(hold !== undefined && { holdMs: parseDurationMs(hold)! }) }
  },
  write: (step) => ({
    click: {
      on: step.on,
      ...(step.times !== undefined && { times: step.times }),
      ...(step.button && { button: step.button }),
      ...(step.with && { with: step.with }),
      ...(step.holdMs !== undefined && { hold: durationText(step.holdMs) }),
    },
  }),
  describe: (step) => ({ object: describeTarget(step.on), detail: howClicked(step) }),
  purpose: 'a button, a link',
  fields: [
    on('click'),
    { path: ['click', 'times'], label: 'Times', kind: 'number', hint: '2 for a double click' },
    { path: ['click', 'button'], label: 'Button', kind: 'choice', choices: MOUSE_BUTTONS },
    { path: ['click', 'with'], label: 'With', kind: 'list', hint: `keys held: ${HELD_KEYS.join(', ')}` },
    { path: ['click', 'hold'], label: 'Held for', kind: 'duration' },
  ],
  fresh: ({ target = BUTTON }) => ({ click: { on: target } }),
  targets: (step) => [step.on],
  changesPage: true,
  onScreen: true,
}

function howClicked({ times = 1, button = 'left', with: keys = [], holdMs }: Clicking): string {
  const words = [
    times === 2 ? 'twice' : times > 2 && `${times} times`,
    button !== 'left' && `with the ${button} button`,
    keys.length > 0 && `holding ${keys.join(' and ')}`,
    holdMs !== undefined && `for ${describeDuration(holdMs)}`,
  ]
  return words.filter(Boolean).join(', ')
}

const withText = (written: { in: Target; value: unknown }) => ({ ...written, value: String(written.value) })

export const type: VerbDefinition<'type'> = {
  schema: object({ in: ref('target'), value: VALUE }, ['in', 'value']),
  read: (form) => withText(behind(form, 'type')),
  write: (step) => ({ type: { in: step.in, value: step.value } }),
  describe: (step) => ({ object: describeTarget(step.in), detail: step.value }),
  purpose: 'into a field',
  fields: [within('type'), { path: ['type', 'value'], label: 'Text', kind: 'text' }],
  fresh: ({ target = INPUT, value }) => ({ type: { in: target, value } }),
  targets: (step) => [step.in],
  changesPage: true,
  onScreen: true,
}

export const choose: VerbDefinition<'choose'> = {
  schema: object(
    { in: ref('target'), value: VALUE, also: { type: 'array', items: VALUE, minItems: 1, maxItems: 100 } },
    ['in', 'value'],
  ),
  read(form) {
    const { also, ...one } = behind<{ in: Target; value: unknown; also?: unknown[] }>(form, 'choose')
    return { ...withText(one), ...(also && { also: also.map(String) }) }
  },
  write: (step) => ({ choose: { in: step.in, value: step.value, ...(step.also && { also: step.also }) } }),
  describe: (step) => ({
    object: describeTarget(step.in),
    detail: [step.value, ...(step.also ?? [])].join(', '),
  }),
  purpose: 'of a list, or a tick',
  fields: [
    within('choose'),
    { path: ['choose', 'value'], label: 'Choice', kind: 'text', hint: 'of a list, or yes and no for a tick' },
    { path: ['choose', 'also'], label: 'And', kind: 'list' },
  ],
  fresh: ({ target = INPUT, value }) => ({ choose: { in: target, value: value || 'yes' } }),
  targets: (step) => [step.in],
  changesPage: true,
  onScreen: true,
}

export const press: VerbDefinition<'press'> = {
  schema: object({ key: TEXT, on: ref('target') }, ['key']),
  read: (form) => behind<{ key: string; on?: Target }>(form, 'press'),
  write: (step) => ({ press: { key: step.key, ...(step.on && { on: step.on }) } }),
  describe: (step) => ({ object: step.key, detail: step.on ? `in ${describeTarget(step.on)}` : '' }),
  purpose: 'a key',
  fields: [
    { path: ['press', 'key'], label: 'Key', kind: 'text', hint: 'Enter, Tab, Control+A' },
    on('press'),
  ],
  fresh: ({ target }) => ({ press: { key: 'Enter', ...(target && { on: target }) } }),
  targets: (step) => [step.on],
  changesPage: true,
  onScreen: true,
}

export const hover: VerbDefinition<'hover'> = {
  schema: object({ on: ref('target') }, ['on']),
  read: (form) => behind<{ on: Target }>(form, 'hover'),
  write: (step) => ({ hover: { on: step.on } }),
  describe: (step) => ({ object: describeTarget(step.on) }),
  purpose: 'over something',
  fields: [on('hover')],
  fresh: ({ target = BUTTON }) => ({ hover: { on: target } }),
  targets: (step) => [step.on],
  changesPage: true,
  onScreen: true,
}

export const drag: VerbDefinition<'drag'> = {
  schema: object({ from: ref('target'), to: ref('target') }, ['from', 'to']),
  read: (form) => behind<{ from: Target; to: Target }>(form, 'drag'),
  write: (step) => ({ drag: { from: step.from, to: step.to } }),
  describe: (step) => ({ object: describeTarget(step.from), detail: `to ${describeTarget(step.to)}` }),
  purpose: 'from here to there',
  fields: [
    { path: ['drag', 'from'], label: 'From', kind: 'target' },
    { path: ['drag', 'to'], label: 'To', kind: 'target' },
  ],
  fresh: ({ target = BUTTON }) => ({ drag: { from: target, to: INPUT } }),
  targets: (step) => [step.from, step.to],
  changesPage: true,
  onScreen: true,
}

const FILE = {
  name: TEXT,
  text: { type: 'string', maxLength: FILE_TEXT_MOST },
  encoding: { enum: [...FILE_ENCODINGS] },
}

export const upload: VerbDefinition<'upload'> = {
  schema: object(
    {
      in: ref('target'),
      ...FILE,
      more: { type: 'array', items: object(FILE, ['name', 'text']), minItems: 1, maxItems: 20 },
    },
    ['in', 'name', 'text'],
  ),
  read: (form) => behind<Omit<StepOf<'upload'>, 'verb'>>(form, 'upload'),
  write: (step) => ({
    upload: {
      in: step.in,
      name: step.name,
      text: step.text,
      ...(step.encoding && { encoding: step.encoding }),
      ...(step.more && { more: step.more }),
    },
  }),
  describe: (step) => ({
    object: [step, ...(step.more ?? [])].map(({ name }) => name).join(', '),
    detail: `into ${describeTarget(step.in)}`,
  }),
  purpose: 'a file',
  fields: [
    within('upload'),
    { path: ['upload', 'name'], label: 'File name', kind: 'text' },
    { path: ['upload', 'text'], label: 'Its text', kind: 'long' },
    { path: ['upload', 'encoding'], label: 'It is written as', kind: 'choice', choices: FILE_ENCODINGS },
    { path: ['upload', 'more'], label: 'More files', kind: 'json' },
  ],
  fresh: ({ target = INPUT }) => ({ upload: { in: target, name: 'list.csv', text: 'reference\n' } }),
  targets: (step) => [step.in],
  changesPage: true,
  onScreen: true,
}

export const scroll: VerbDefinition<'scroll'> = {
  schema: {
    ...object({ to: ref('target'), by: { type: 'integer' }, in: ref('target'), until: ref('target') }),
    oneOf: [{ required: ['to'] }, { required: ['by'] }, { required: ['until'], not: { required: ['by'] } }],
    dependencies: { to: { not: { anyOf: [{ required: ['in'] }, { required: ['until'] }] } } },
  },
  read: (form) => behind<Omit<StepOf<'scroll'>, 'verb'>>(form, 'scroll'),
  write: (step) => ({
    scroll: {
      ...(step.to && { to: step.to }),
      ...(step.in && { in: step.in }),
      ...(step.by !== undefined && { by: step.by }),
      ...(step.until && { until: step.until }),
    },
  }),
  describe(step) {
    if (step.to) return { object: `to ${describeTarget(step.to)}` }
    const where = step.in && `in ${describeTarget(step.in)}`
    const until = step.until && `until ${describeTarget(step.until)} is there`
    const by = step.by !== undefined && `${Math.abs(step.by)} px`
    return {
      object: (step.by ?? 0) < 0 ? 'up' : 'down',
      detail: [by, where, until].filter(Boolean).join(' '),
    }
  },
  purpose: 'to something',
  fields: [
    { path: ['scroll', 'to'], label: 'To', kind: 'target' },
    { path: ['scroll', 'by'], label: 'or by pixels', kind: 'number' },
    { path: ['scroll', 'in'], label: 'In', kind: 'target' },
    { path: ['scroll', 'until'], label: 'Until there is', kind: 'target' },
  ],
  fresh: ({ target = BUTTON }) => ({ scroll: { to: target } }),
  targets: (step) => [step.to, step.in, step.until],
  changesPage: true,
  onScreen: true,
}

const WINDOW_WORDS: Record<WindowChoice, string> = {
  newest: 'the newest one',
  first: 'the first one',
  titled: 'titled',
  at: 'at',
  close: 'close it',
}

export const window: VerbDefinition<'window'> = {
  schema: {
    ...object({ to: { enum: [...WINDOW_CHOICES] }, text: TEXT }, ['to']),
    if: { properties: { to: { enum: ['titled', 'at'] } } },
    then: { required: ['text'] },
    else: { not: { required: ['text'] } },
  },
  read: (form) => behind<{ to: WindowChoice; text?: string }>(form, 'window'),
  write: ({ to, text }) => ({ window: { to, ...(text !== undefined && { text }) } }),
  describe: ({ to, text = '' }) => ({ object: WINDOW_WORDS[to], detail: text }),
  purpose: 'another one, or close this one',
  fields: [
    { path: ['window', 'to'], label: 'Which', kind: 'choice', choices: WINDOW_CHOICES },
    { path: ['window', 'text'], label: 'Its title or address', kind: 'text', hint: 'or a part of it' },
  ],
  fresh: () => ({ window: { to: 'newest' } }),
  changesPage: true,
  onScreen: true,
}

export const dialog: VerbDefinition<'dialog'> = {
  schema: object({ answer: { enum: ['accept', 'dismiss'] }, text: { type: 'string', maxLength: 300 } }, [
    'answer',
  ]),
  read: (form) => behind<{ answer: 'accept' | 'dismiss'; text?: string }>(form, 'dialog'),
  write: ({ answer, text }) => ({ dialog: { answer, ...(text !== undefined && { text }) } }),
  describe: ({ answer, text = '' }) => ({
    object: answer === 'accept' ? 'accept the next one' : 'dismiss the next one',
    detail: text,
  }),
  purpose: 'answer the next one',
  fields: [
    { path: ['dialog', 'answer'], label: 'Answer the next dialog with', kind: 'answer' },
    { path: ['dialog', 'text'], label: 'Text', kind: 'text' },
  ],
  fresh: () => ({ dialog: { answer: 'accept' } }),
}

/** Verbs that do something to the page, as a person would. */
import { object, ref, TEXT, VALUE } from '../schema-parts'
import { describeTarget } from '../sentences'
import type { Target, Verb } from '../types'
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
  fresh: () => ({ open: 'booking:/' }),
  changesPage: true,
  onScreen: true,
  address: ({ address }) => address,
}

export const click: VerbDefinition<'click'> = {
  schema: object({ on: ref('target') }, ['on']),
  read: (form) => behind<{ on: Target }>(form, 'click'),
  write: (step) => ({ click: { on: step.on } }),
  describe: (step) => ({ object: describeTarget(step.on) }),
  purpose: 'a button, a link',
  fields: [on('click')],
  fresh: ({ target = BUTTON }) => ({ click: { on: target } }),
  targets: (step) => [step.on],
  changesPage: true,
  onScreen: true,
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
  schema: object({ in: ref('target'), value: VALUE }, ['in', 'value']),
  read: (form) => withText(behind(form, 'choose')),
  write: (step) => ({ choose: { in: step.in, value: step.value } }),
  describe: (step) => ({ object: describeTarget(step.in), detail: step.value }),
  purpose: 'of a list, or a tick',
  fields: [
    within('choose'),
    { path: ['choose', 'value'], label: 'Choice', kind: 'text', hint: 'of a list, or yes and no for a tick' },
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

export const upload: VerbDefinition<'upload'> = {
  schema: object({ in: ref('target'), name: TEXT, text: { type: 'string', maxLength: 100_000 } }, [
    'in',
    'name',
    'text',
  ]),
  read: (form) => behind<{ in: Target; name: string; text: string }>(form, 'upload'),
  write: (step) => ({ upload: { in: step.in, name: step.name, text: step.text } }),
  describe: (step) => ({ object: step.name, detail: `into ${describeTarget(step.in)}` }),
  purpose: 'a file',
  fields: [
    within('upload'),
    { path: ['upload', 'name'], label: 'File name', kind: 'text' },
    { path: ['upload', 'text'], label: 'Its text', kind: 'long' },
  ],
  fresh: ({ target = INPUT }) => ({ upload: { in: target, name: 'list.csv', text: 'reference\n' } }),
  targets: (step) => [step.in],
  changesPage: true,
  onScreen: true,
}

export const scroll: VerbDefinition<'scroll'> = {
  schema: { ...object({ to: ref('target'), by: { type: 'integer' } }), minProperties: 1, maxProperties: 1 },
  read: (form) => behind<{ to?: Target; by?: number }>(form, 'scroll'),
  write: (step) => ({
    scroll: { ...(step.to && { to: step.to }), ...(step.by !== undefined && { by: step.by }) },
  }),
  describe: ({ to, by = 0 }) =>
    to
      ? { object: `to ${describeTarget(to)}` }
      : { object: by < 0 ? 'up' : 'down', detail: `${Math.abs(by)} px` },
  purpose: 'to something',
  fields: [
    { path: ['scroll', 'to'], label: 'To', kind: 'target' },
    { path: ['scroll', 'by'], label: 'or by pixels', kind: 'number' },
  ],
  fresh: ({ target = BUTTON }) => ({ scroll: { to: target } }),
  targets: (step) => [step.to],
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

/** JSON Schemas of steps: what stands behind each verb, and what any step may carry. */
import {
  DURATION,
  EXTENSIONS,
  KEY,
  NAME,
  NUMBER_OR_VALUE,
  object,
  PARAMETERS,
  ref,
  TEXT,
  VALUE,
} from './schema-parts'
import { CAPTURES, ELEMENT_STATES, SCREEN_WAYS, TARGET_WAYS } from './types'

const ways = Object.fromEntries([...TARGET_WAYS, ...SCREEN_WAYS].map((way) => [way, TEXT]))
const target = { ...object({ ...ways, name: TEXT }), minProperties: 1, dependencies: { name: ['role'] } }

const matching = {
  equals: VALUE,
  not: VALUE,
  contains: { type: 'string' },
  startsWith: { type: 'string' },
  matches: {
    type: 'string',
    format: 'expression',
    maxLength: 500,
    description: 'a regular expression in RE2 syntax, found anywhere',
  },
  near: object({ value: NUMBER_OR_VALUE, within: NUMBER_OR_VALUE }, ['value', 'within']),
  between: { type: 'array', items: NUMBER_OR_VALUE, minItems: 2, maxItems: 2 },
  atLeast: NUMBER_OR_VALUE,
  atMost: NUMBER_OR_VALUE,
  empty: { type: 'boolean' },
  oneOf: { type: 'array', items: VALUE, minItems: 1 },
}
const matcher = { ...object(matching), minProperties: 1 }
const attribute = { ...object({ name: TEXT, ...matching }, ['name']), minProperties: 2 }

const steps = { type: 'array', items: ref('step'), minItems: 1, maxItems: 2000 }
const state = { enum: [...ELEMENT_STATES] }
const reads = {
  type: 'object',
  propertyNames: { pattern: NAME.pattern },
  additionalProperties: { type: 'string' },
}
const matchers = { type: 'object', additionalProperties: ref('matcher') }

const check = object({
  of: ref('target'),
  text: ref('matcher'),
  value: ref('matcher'),
  count: ref('matcher'),
  url: ref('matcher'),
  title: ref('matcher'),
  download: ref('matcher'),
  attribute: ref('attribute'),
  state,
  screen: TEXT,
  ignore: { type: 'array', items: ref('target'), minItems: 1 },
  soft: { type: 'boolean' },
})

/** Schema of what stands behind each verb. */
const verbs: Record<string, Record<string, unknown>> = {
  open: { type: 'string', pattern: '^[a-z][a-z0-9-]*:/' },
  click: object({ on: ref('target') }, ['on']),
  type: object({ in: ref('target'), value: VALUE }, ['in', 'value']),
  choose: object({ in: ref('target'), value: VALUE }, ['in', 'value']),
  press: object({ key: TEXT, on: ref('target') }, ['key']),
  hover: object({ on: ref('target') }, ['on']),
  drag: object({ from: ref('target'), to: ref('target') }, ['from', 'to']),
  upload: object({ in: ref('target'), name: TEXT, text: { type: 'string', maxLength: 100_000 } }, [
    'in',
    'name',
    'text',
  ]),
  scroll: { ...object({ to: ref('target'), by: { type: 'integer' } }), minProperties: 1, maxProperties: 1 },
  wait: { ...object({ for: ref('target'), state, time: DURATION }), minProperties: 1 },
  read: object({ of: ref('target'), as: NAME, handoff: { type: 'boolean' } }, ['of', 'as']),
  check,
  call: object(
    {
      method: { enum: ['GET', 'POST', 'PUT', 'PATCH', 'DELETE'] },
      url: { type: 'string', pattern: '^[a-z][a-z0-9-]*:/' },
      headers: { type: 'object', additionalProperties: { type: 'string' } },
      body: {},
      expect: object({ status: { type: 'integer', minimum: 100, maximum: 599 }, json: matchers }),
      read: reads,
      handoff: { type: 'boolean' },
    },
    ['method', 'url'],
  ),
  query: object(
    {
      database: KEY,
      sql: { type: 'string', minLength: 1, maxLength: 10_000 },
      values: { type: 'array', items: VALUE, maxItems: 100 },
      expect: object({
        rows: { anyOf: [{ type: 'integer', minimum: 0 }, ref('matcher')] },
        value: ref('matcher'),
        columns: matchers,
      }),
      read: reads,
    },
    ['database', 'sql'],
  ),
  use: KEY,
  block: TEXT,
  if: { ...object({ visible: ref('target'), hidden: ref('target') }), minProperties: 1, maxProperties: 1 },
  repeat: {
    ...object({ times: { type: 'integer', minimum: 1, maximum: 1000 }, whileVisible: ref('target') }),
    minProperties: 1,
  },
  meet: KEY,
  dialog: object({ answer: { enum: ['accept', 'dismiss'] }, text: { type: 'string', maxLength: 300 } }, [
    'answer',
  ]),
  note: { type: 'string', minLength: 1, maxLength: 1000 },
  do: { type: 'string', minLength: 1, maxLength: 1000 },
}
export const VERBS = Object.keys(verbs)

const step = {
  ...object({
    ...verbs,
    expect: { type: 'string', maxLength: 1000, description: 'what a person should see after a do' },
    with: PARAMETERS,
    steps: ref('steps'),
    else: ref('steps'),
    id: KEY,
    off: { type: 'boolean' },
    tag: TEXT,
    limit: DURATION,
    capture: { enum: [...CAPTURES] },
    because: { type: 'string', maxLength: 1000 },
  }),
  patternProperties: EXTENSIONS,
  oneOf: VERBS.map((verb) => ({ required: [verb] })),
}

export const stepDefinitions = { target, matcher, attribute, step, steps }

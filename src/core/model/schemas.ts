/** JSON Schemas of the file kinds, as a person writes them (docs/formats/). Published at /schemas/KIND.json. */
import { ELEMENT_STATES } from './types'

const KEY = { type: 'string', pattern: '^[a-z0-9][a-z0-9-]*$', maxLength: 80 }
const TEXT = { type: 'string', minLength: 1, maxLength: 300 }
const VALUE = { type: ['string', 'number', 'boolean'] }
const NUMBER_OR_VALUE = { type: ['number', 'string'] }
const DURATION = { type: ['string', 'integer'], pattern: '^\\d+(\\.\\d+)?(ms|s|m|h)$', minimum: 0 }
const PARAMETERS = { type: 'object', additionalProperties: VALUE, propertyNames: { pattern: '^[A-Za-z][A-Za-z0-9_]*$' } }
const EXTENSIONS = { '^x-': {} }

const object = (properties: Record<string, unknown>, required: string[] = []) => ({
  type: 'object',
  additionalProperties: false,
  properties,
  required,
})

const target = {
  ...object({
    testId: TEXT,
    role: TEXT,
    name: TEXT,
    label: TEXT,
    placeholder: TEXT,
    text: TEXT,
    css: TEXT,
  }),
  minProperties: 1,
  dependencies: { name: ['role'] },
}

const matcher = {
  ...object({
    equals: VALUE,
    not: VALUE,
    contains: { type: 'string' },
    startsWith: { type: 'string' },
    matches: { type: 'string', format: 'regex' },
    near: object({ value: NUMBER_OR_VALUE, within: NUMBER_OR_VALUE }, ['value', 'within']),
    between: { type: 'array', items: NUMBER_OR_VALUE, minItems: 2, maxItems: 2 },
    atLeast: NUMBER_OR_VALUE,
    atMost: NUMBER_OR_VALUE,
    empty: { type: 'boolean' },
    oneOf: { type: 'array', items: VALUE, minItems: 1 },
  }),
  minProperties: 1,
}

const ref = (name: string) => ({ $ref: `#/definitions/${name}` })
const steps = { type: 'array', items: ref('step'), minItems: 1, maxItems: 2000 }
const state = { enum: [...ELEMENT_STATES] }

/** Schema of what stands behind each verb. */
const verbs: Record<string, unknown> = {
  open: { type: 'string', pattern: '^[a-z][a-z0-9-]*:/' },
  click: object({ on: ref('target') }, ['on']),
  type: object({ in: ref('target'), value: VALUE }, ['in', 'value']),
  choose: object({ in: ref('target'), value: VALUE }, ['in', 'value']),
  press: object({ key: TEXT, on: ref('target') }, ['key']),
  wait: { ...object({ for: ref('target'), state, time: DURATION }), minProperties: 1 },
  read: object({ of: ref('target'), as: { type: 'string', pattern: '^[A-Za-z][A-Za-z0-9_]*$' }, handoff: { type: 'boolean' } }, ['of', 'as']),
  check: object({ of: ref('target'), text: ref('matcher'), value: ref('matcher'), count: ref('matcher'), url: ref('matcher'), state, soft: { type: 'boolean' } }),
  call: object(
    {
      method: { enum: ['GET', 'POST', 'PUT', 'PATCH', 'DELETE'] },
      url: { type: 'string', pattern: '^[a-z][a-z0-9-]*:/' },
      body: {},
      expect: object({ status: { type: 'integer', minimum: 100, maximum: 599 }, json: { type: 'object', additionalProperties: ref('matcher') } }),
      read: { type: 'object', additionalProperties: { type: 'string' } },
    },
    ['method', 'url'],
  ),
  use: KEY,
  block: TEXT,
  if: { ...object({ visible: ref('target'), hidden: ref('target') }), minProperties: 1, maxProperties: 1 },
  repeat: { ...object({ times: { type: 'integer', minimum: 1, maximum: 1000 }, whileVisible: ref('target') }), minProperties: 1 },
}
export const VERBS = Object.keys(verbs)

const step = {
  ...object({
    ...verbs,
    with: PARAMETERS,
    steps: ref('steps'),
    else: ref('steps'),
    id: KEY,
    off: { type: 'boolean' },
    tag: TEXT,
    limit: DURATION,
    because: { type: 'string', maxLength: 1000 },
  }),
  patternProperties: EXTENSIONS,
  oneOf: VERBS.map((verb) => ({ required: [verb] })),
}

const definitions = { target, matcher, step, steps }
const strings = { type: 'array', items: TEXT, uniqueItems: true }

export const caseSchema = {
  $id: 'case.json',
  title: 'A test case',
  definitions,
  ...object(
    {
      case: KEY,
      title: TEXT,
      tags: strings,
      priority: { enum: ['low', 'normal', 'high', 'critical'] },
      requires: strings,
      entry: KEY,
      parameters: PARAMETERS,
      data: { type: 'string', pattern: '^[^/\\\\]+\\.csv$' },
      uses: strings,
      limit: DURATION,
      steps: ref('steps'),
      undo: ref('steps'),
    },
    ['case', 'title', 'steps'],
  ),
  patternProperties: EXTENSIONS,
}

export const routineSchema = {
  $id: 'routine.json',
  title: 'A routine: named steps that several cases use',
  definitions,
  ...object({ routine: KEY, title: TEXT, parameters: PARAMETERS, steps: ref('steps') }, ['routine', 'title', 'steps']),
  patternProperties: EXTENSIONS,
}

const entry = {
  ...object({
    case: KEY,
    suite: KEY,
    group: TEXT,
    name: TEXT,
    off: { type: 'boolean' },
    repeat: { type: 'integer', minimum: 1, maximum: 100 },
    limit: DURATION,
    with: PARAMETERS,
    entries: { type: 'array', items: ref('entry'), maxItems: 5000 },
  }),
  patternProperties: EXTENSIONS,
  oneOf: ['case', 'suite', 'group'].map((what) => ({ required: [what] })),
}

export const suiteSchema = {
  $id: 'suite.json',
  title: 'A suite: an ordered tree of entries',
  definitions: { entry },
  ...object({ suite: KEY, title: TEXT, entries: { type: 'array', items: ref('entry'), maxItems: 5000 } }, ['suite', 'title', 'entries']),
  patternProperties: EXTENSIONS,
}

/** Schema by kind of definition, as published. */
export const FILE_SCHEMAS = { case: caseSchema, routine: routineSchema, suite: suiteSchema } as const

/** JSON Schemas of steps: what any step may carry, and what its verb (`verbs`) does. */
import { DURATION, EXTENSIONS, KEY, NUMBER_OR_VALUE, object, ref, TEXT, VALUE } from './schema-parts'
import { TEXT_MATCHES } from './text-match'
import { CAPTURES, SCREEN_WAYS, TARGET_PLACES, TARGET_WAYS } from './types'
import { VERB_NAMES, VERBS } from './verbs'

const ways = Object.fromEntries([...TARGET_WAYS, ...SCREEN_WAYS].map((way) => [way, TEXT]))
const target = {
  ...object({
    ...ways,
    name: TEXT,
    match: { enum: [...TEXT_MATCHES] },
    ...Object.fromEntries(TARGET_PLACES.map((place) => [place, ref('target')])),
    number: { type: 'integer', minimum: -1000, maximum: 1000, not: { const: 0 } },
  }),
  minProperties: 1,
  dependencies: { name: ['role'] },
}

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

const step = {
  ...object({
    ...Object.fromEntries(VERB_NAMES.map((verb) => [verb, VERBS[verb].schema])),
    ...Object.assign({}, ...VERB_NAMES.map((verb) => VERBS[verb].beside)),
    id: KEY,
    off: { type: 'boolean' },
    tag: TEXT,
    limit: DURATION,
    capture: { enum: [...CAPTURES] },
    because: { type: 'string', maxLength: 1000 },
  }),
  patternProperties: EXTENSIONS,
  oneOf: VERB_NAMES.map((verb) => ({ required: [verb] })),
}

export const stepDefinitions = { target, matcher, attribute, step, steps }

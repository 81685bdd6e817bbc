/** Events of an attempt as JSON Schemas, one for each type: whoever reads them later may rely on their form.
 * Fields that are not named here are taken as well: they are of later agents. */
import { RESUMES } from '@/core/model'
import { FAILURE_KINDS } from '@/core/execution'

export const TEXT_CHARS = 20_000
/** More lines than this no attempt has: agents stop before, and say how much they left out. */
export const EVENTS_MOST = 200_000
const INTEGER_MOST = 2_147_483_647
const PATH_CHARS = 500
const VALUES_MOST = 200

export const text = (most = 300) => ({ type: 'string', maxLength: most })
export const count = { type: 'integer', minimum: 0, maximum: INTEGER_MOST }
const path = text(PATH_CHARS)
const hash = { type: 'string', pattern: '^[0-9a-f]{64}$' }
const number = { type: 'number', minimum: -INTEGER_MOST, maximum: INTEGER_MOST }
const texts = { type: 'object', maxProperties: VALUES_MOST, additionalProperties: text(TEXT_CHARS) }

const open = (properties: Record<string, unknown>, required: string[]) => ({
  type: 'object',
  properties,
  required,
})

const words = open({ verb: text(), object: text(TEXT_CHARS), detail: text(TEXT_CHARS) }, [
  'verb',
  'object',
  'detail',
])
const box = open({ x: number, y: number, w: number, h: number }, ['x', 'y', 'w', 'h'])
const kind = { enum: [...FAILURE_KINDS] }
const failureFields = {
  kind,
  message: text(TEXT_CHARS),
  expected: text(TEXT_CHARS),
  actual: text(TEXT_CHARS),
  tag: text(),
  application: text(),
}
const failure = open(failureFields, ['kind', 'message'])
/** Of a result: with the place it happened at. */
export const failureSchema = {
  ...open({ ...failureFields, path }, ['kind', 'message']),
  additionalProperties: false,
}

const resume = { enum: [...RESUMES] }
const size = { type: 'integer', minimum: 0, maximum: 100_000 }
const recovery = { path, at: path, rule: text(), resume, kind }

/** What each type holds besides `no`, `atMs` and `type`; a name with "?" may be left out. */
const TYPES: Record<string, Record<string, unknown>> = {
  started: { agent: text(), facts: texts },
  'step-started': { path, words, 'values?': texts, 'because?': text(TEXT_CHARS) },
  'step-ended': {
    path,
    outcome: { enum: ['passed', 'failed', 'errored', 'skipped'] },
    ms: count,
    'failure?': failure,
    'box?': box,
    'note?': text(TEXT_CHARS),
  },
  screen: { path, phase: { enum: ['before', 'after'] }, hash, width: size, height: size },
  console: { path, level: text(60), text: text(TEXT_CHARS) },
  request: { path, method: text(60), url: text(TEXT_CHARS), status: { ...count, minimum: -1 }, ms: number },
  value: { path, name: text(), value: text(TEXT_CHARS) },
  evidence: { kind: { enum: ['video', 'page-source'] }, hash, 'path?': path, 'startMs?': number },
  note: { text: text(TEXT_CHARS) },
  'recovery-started': {
    ...recovery,
    policy: text(),
    from: text(TEXT_CHARS),
    words: text(TEXT_CHARS),
    because: text(TEXT_CHARS),
  },
  'recovery-ended': {
    ...recovery,
    result: { enum: ['worked', 'failed'] },
    ms: count,
    'message?': text(TEXT_CHARS),
    'tag?': text(),
    'application?': text(),
    'failure?': failure,
    'note?': text(TEXT_CHARS),
  },
  'begun-again': { round: count },
}

const NUMBERED = { no: { type: 'integer', minimum: 1, maximum: EVENTS_MOST }, atMs: count }

export const eventSchema = {
  type: 'object',
  required: ['no', 'type', 'atMs'],
  discriminator: { propertyName: 'type' },
  oneOf: Object.entries(TYPES).map(([type, fields]) => schemaOf(type, fields)),
}

function schemaOf(type: string, fields: Record<string, unknown>) {
  const named = Object.entries(fields).map(([name, schema]) => [name.replace('?', ''), schema] as const)
  const required = Object.keys(fields).filter((name) => !name.endsWith('?'))
  return {
    properties: { ...NUMBERED, type: { const: type }, ...Object.fromEntries(named) },
    required: ['no', 'atMs', 'type', ...required],
  }
}

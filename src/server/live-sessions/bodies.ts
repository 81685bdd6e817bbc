/** What people and agents of a live session may say, kind by kind. */
import {
  DIALOG_KINDS,
  FACT_WAYS,
  KEY_DOINGS,
  MOUSE_DOINGS,
  VERDICTS,
  type ElementFacts,
  type LiveOrder,
  type LiveRequest,
  type LiveWord,
  type PlacedStop,
} from '@/core/live'
import { FILE_ENCODINGS, FILE_TEXT_MOST, HELD_KEYS, MOUSE_BUTTONS, WAYS_TO_GO } from '@/core/model'
import { validator, type Validator } from '../http/validator'

/** Steps in the form they have in a file, as JSON; the server reads them. `when`: as behind `if`. */
export type PlayRequest = {
  do: 'play'
  steps: { id: string; form: object; stops?: (Omit<PlacedStop, 'when'> & { when?: object })[] }[]
  pauseMs?: number
}
/** What a person says. Steps come as `play`, and go on to the agent as they are read. */
export type PersonSays = Exclude<LiveOrder, { do: 'steps' }> | LiveRequest | PlayRequest

const SIDE_MOST = 20_000
const point = { type: 'number', minimum: -SIDE_MOST, maximum: SIDE_MOST } as const
const text = (most: number) => ({ type: 'string', maxLength: most }) as const
const held = { type: 'array', items: { enum: [...HELD_KEYS] }, maxItems: 4 } as const
const whole = { type: 'integer', minimum: 0, maximum: 10_000 } as const

const says = (name: string, properties: object = {}, optional: readonly string[] = []) =>
  validator({
    type: 'object',
    additionalProperties: false,
    required: ['do', ...Object.keys(properties).filter((one) => !optional.includes(one))],
    properties: { do: { const: name }, ...properties },
  } as never)

/** Characters of what is typed, pasted, asked for. */
const [TEXT_MOST, STEPS_MOST] = [20_000, 500]

const stops = {
  type: 'array',
  maxItems: 100,
  items: {
    type: 'object',
    additionalProperties: false,
    required: ['at'],
    properties: {
      at: { type: 'array', maxItems: 40, items: { anyOf: [whole, { enum: ['steps', 'else', 'routine'] }] } },
      from: { type: 'integer', minimum: 1, maximum: 1000 },
      when: { type: 'object', maxProperties: 2 },
    },
  },
} as const

const PERSON: Record<PersonSays['do'], Validator<unknown>> = {
  mouse: says('mouse', {
    type: { enum: [...MOUSE_DOINGS] },
    x: point,
    y: point,
    button: { enum: [...MOUSE_BUTTONS, 'none'] },
    clicks: { type: 'integer', minimum: 0, maximum: 3 },
    with: held,
  }),
  wheel: says('wheel', { x: point, y: point, dx: point, dy: point }),
  key: says('key', { type: { enum: [...KEY_DOINGS] }, key: text(30), code: text(30), with: held }),
  text: says('text', { text: text(TEXT_MOST) }),
  open: says('open', { address: { type: 'string', pattern: '^[a-z][a-z0-9-]*:/', maxLength: 2000 } }),
  go: says('go', { to: { enum: [...WAYS_TO_GO] } }),
  tab: says('tab', { index: whole }),
  choose: says('choose', { values: { type: 'array', items: text(1000), maxItems: 100 } }),
  files: says('files', {
    files: {
      type: 'array',
      maxItems: 20,
      items: {
        type: 'object',
        additionalProperties: false,
        required: ['name', 'text'],
        properties: {
          name: { type: 'string', minLength: 1, maxLength: 200 },
          text: text(FILE_TEXT_MOST),
          encoding: { enum: [...FILE_ENCODINGS] },
        },
      },
    },
  }),
  dialog: says('dialog', { answer: { enum: ['accept', 'dismiss'] }, text: text(2000) }, ['text']),
  verdict: says('verdict', { is: { enum: [...VERDICTS] }, note: text(2000) }),
  remark: says('remark', {
    text: { type: 'string', minLength: 1, maxLength: 2000 },
    wrong: { type: 'boolean' },
  }),
  record: says('record', { on: { type: 'boolean' } }),
  forget: says('forget'),
  pick: says('pick', { x: point, y: point, w: point, h: point }, ['w', 'h']),
  locate: says('locate', { target: { type: 'object', maxProperties: 14 } }),
  stop: says('stop'),
  set: says('set', {
    name: { type: 'string', pattern: '^[A-Za-z_][A-Za-z0-9_]{0,79}$' },
    value: text(TEXT_MOST),
  }),
  take: says('take', { name: text(500) }),
  longer: says('longer'),
  end: says('end', { undo: { type: 'boolean' } }),
  drive: says('drive'),
  'hand-over': says('hand-over', { to: whole }),
  point: says('point', { x: point, y: point }),
  play: says(
    'play',
    {
      steps: {
        type: 'array',
        minItems: 1,
        maxItems: STEPS_MOST,
        items: {
          type: 'object',
          additionalProperties: false,
          required: ['id', 'form'],
          properties: { id: text(200), form: { type: 'object' }, stops },
        },
      },
      pauseMs: { type: 'integer', minimum: 0, maximum: 10_000 },
    },
    ['pauseMs'],
  ),
  'go-on': says(
    'go-on',
    { stepping: { type: 'boolean' }, recover: { type: 'boolean' }, out: { type: 'boolean' } },
    ['out'],
  ),
  row: says('row', { index: { type: 'integer', minimum: 1, maximum: 100_000 } }),
}

const long = text(200_000)
const number = { type: 'number' } as const
const count = { type: 'integer', minimum: 1, maximum: 1000 } as const
const box = {
  type: 'object',
  additionalProperties: false,
  required: ['x', 'y', 'w', 'h'],
  properties: { x: number, y: number, w: number, h: number },
} as const
const orNull = (schema: object) => ({ anyOf: [{ type: 'null' }, schema] })
const facts = {
  type: 'object',
  required: ['tag', 'counts'],
  additionalProperties: false,
  properties: {
    tag: text(100),
    type: text(100),
    role: text(200),
    name: text(1000),
    label: text(1000),
    placeholder: text(10_000),
    testId: text(10_000),
    text: text(1000),
    css: text(10_000),
    counts: { type: 'object', additionalProperties: { type: 'integer', minimum: 0 } },
    repeated: { type: 'array', items: { enum: [...FACT_WAYS] }, maxItems: FACT_WAYS.length },
    place: { type: 'integer', minimum: 1 },
    value: long,
    checked: { type: 'boolean' },
    href: text(20_000),
    secret: { type: 'boolean' },
    suggests: { type: 'boolean' },
    disabled: { type: 'boolean' },
    shownBy: { type: 'object', maxProperties: 14, additionalProperties: { anyOf: [text(10_000), whole] } },
    lines: { type: 'array', items: text(1000), maxItems: 40 },
    attributes: { type: 'object', additionalProperties: text(1000), maxProperties: 20 },
    alike: {
      type: 'object',
      additionalProperties: false,
      required: ['role', 'count'],
      properties: { role: text(200), count: { type: 'integer', minimum: 1 } },
    },
    box,
  } satisfies Record<keyof ElementFacts, object>,
}

const word = (name: string, properties: object, optional: readonly string[] = []) =>
  validator({
    type: 'object',
    additionalProperties: false,
    required: ['say', ...Object.keys(properties).filter((one) => !optional.includes(one))],
    properties: { say: { const: name }, ...properties },
  } as never)

const AGENT: Record<LiveWord['say'], Validator<unknown>> = {
  state: word(
    'state',
    {
      url: long,
      windows: {
        type: 'array',
        maxItems: 50,
        items: {
          type: 'object',
          additionalProperties: false,
          required: ['title', 'url'],
          properties: { title: long, url: long },
        },
      },
      shown: whole,
      recording: { type: 'boolean' },
      working: { type: 'boolean' },
      values: { type: 'object', maxProperties: 200, additionalProperties: long },
      downloads: { type: 'array', maxItems: 100, items: long },
      leftMs: { type: 'number', minimum: 0 },
      rate: { type: 'number', minimum: 0, maximum: 1000 },
    },
    ['rate', 'downloads'],
  ),
  recorded: word('recorded', {
    steps: {
      type: 'array',
      maxItems: 3000,
      items: {
        type: 'object',
        additionalProperties: false,
        required: ['step', 'atMs'],
        properties: {
          step: { type: 'object', required: ['verb'], properties: { verb: text(40) } },
          atMs: number,
          problem: text(2000),
          caution: text(2000),
        },
      },
    },
  }),
  step: word(
    'step',
    {
      id: text(200),
      mark: { enum: ['running', 'passed', 'recovered', 'failed', 'errored', 'skipped', 'cancelled'] },
      ms: number,
      failure: { type: 'object', required: ['kind', 'message'] },
    },
    ['ms', 'failure'],
  ),
  picked: word('picked', { facts: orNull(facts) }),
  located: word('located', { count: { type: 'integer', minimum: 0 }, box: orNull(box) }),
  list: word('list', {
    list: orNull({
      type: 'object',
      additionalProperties: false,
      required: ['box', 'several', 'options'],
      properties: {
        box,
        several: { type: 'boolean' },
        options: {
          type: 'array',
          maxItems: 1000,
          items: {
            type: 'object',
            additionalProperties: false,
            required: ['label', 'value', 'chosen'],
            properties: { label: long, value: long, chosen: { type: 'boolean' } },
          },
        },
      },
    }),
  }),
  asks: word('asks', {
    dialog: orNull({
      type: 'object',
      additionalProperties: false,
      required: ['words', 'suggested'],
      properties: { kind: { enum: [...DIALOG_KINDS] }, words: long, suggested: long },
    }),
  }),
  held: word('held', {
    held: orNull({
      type: 'object',
      additionalProperties: false,
      required: ['words'],
      properties: { words: long, failure: long, rule: long },
    }),
  }),
  stopped: word('stopped', { id: text(200) }),
  judge: word('judge', {
    asked: orNull({
      type: 'object',
      additionalProperties: false,
      required: ['words'],
      properties: { words: long, expected: long },
    }),
  }),
  dialog: word('dialog', { words: long, answer: { enum: ['accept', 'dismiss'] } }),
  files: word('files', { several: { type: 'boolean' } }),
  file: word('file', { name: text(500), part: count, of: count, data: text(2_200_000) }),
  problem: word('problem', { message: long }),
}

/** Checked by its own schema. @returns `undefined`: it is nothing that may be said */
export const readPerson = (text: string): PersonSays | undefined => read(text, PERSON, 'do')
export const readAgent = (text: string): LiveWord | undefined => read(text, AGENT, 'say')

function read<T>(text: string, kinds: Record<string, Validator<unknown>>, by: 'do' | 'say'): T | undefined {
  let said: unknown
  try {
    said = JSON.parse(text)
  } catch {
    return undefined
  }
  if (typeof said !== 'object' || said === null) return undefined
  const kind = (said as Record<string, unknown>)[by]
  if (typeof kind !== 'string' || !Object.hasOwn(kinds, kind)) return undefined
  return kinds[kind]!(said) ? (said as T) : undefined
}

/** Events of an attempt as JSON Schemas, one for each type: whoever reads them later may rely on their form.
 * Fields that are not named here are taken as well: they are of later agents. */
import { RESUMES } from '@/core/model'
import { FAILURE_KINDS } from '@/core/execution'
import { closed, count, number, open, text, type Fields, type None } from '../http/schema-parts'

export const TEXT_CHARS = 20_000
/** More lines than this no attempt has: agents stop before, and say how much they left out. */
export const EVENTS_MOST = 200_000
const PATH_CHARS = 500
const VALUES_MOST = 200

const long = text(TEXT_CHARS)
const path = text(PATH_CHARS)
const hash = { type: 'string', pattern: '^[0-9a-f]{64}$' } as const
const texts = { type: 'object', maxProperties: VALUES_MOST, additionalProperties: long } as const

const words = open({ verb: text(), object: long, detail: long })
const box = open({ x: number, y: number, w: number, h: number })
/** As many parts of a screen that differ are told one by one. */
const REGIONS_MOST = 200
const boxes = { type: 'array', items: box, maxItems: REGIONS_MOST } as const
const regions = {
  type: 'array',
  items: open(
    {
      x: number,
      y: number,
      w: number,
      h: number,
      pixels: count,
      kind: { enum: ['moved', 'changed', 'added', 'removed'] },
    },
    { dx: number, dy: number },
  ),
  maxItems: REGIONS_MOST,
} as const
const kind = { enum: FAILURE_KINDS } as const
const reason = { kind, message: long } as const
const reasonMore = { expected: long, actual: long, tag: text(), application: text() } as const
const failure = open(reason, reasonMore)
/** Of a result: with the place it happened at. */
export const failureSchema = closed(reason, { ...reasonMore, path })

const size = { type: 'integer', minimum: 0, maximum: 100_000 } as const
const recovery = { path, at: path, rule: text(), resume: { enum: RESUMES }, kind } as const

const NUMBERED = { no: { type: 'integer', minimum: 1, maximum: EVENTS_MOST }, atMs: count } as const

/** One type of events: what each has, and what may be left out. */
const event = <const T extends string, const F extends Fields, const O extends Fields = None>(
  type: T,
  fields: F,
  optional?: O,
) => open({ ...NUMBERED, type: { const: type }, ...fields }, optional)

export const eventSchema = {
  type: 'object',
  required: ['no', 'type', 'atMs'],
  discriminator: { propertyName: 'type' },
  oneOf: [
    event('started', { agent: text(), facts: texts }),
    event('step-started', { path, words }, { values: texts, because: long }),
    event(
      'step-ended',
      { path, outcome: { enum: ['passed', 'failed', 'errored', 'skipped'] }, ms: count },
      { failure, box, note: long },
    ),
    event('screen', { path, phase: { enum: ['before', 'after'] }, hash, width: size, height: size }),
    event(
      'screen-check',
      {
        path,
        name: text(60),
        result: { enum: ['same', 'differs', 'proposed'] },
        hash,
        width: size,
        height: size,
      },
      { accepted: hash, from: text(), ratio: number, regions, ignore: boxes },
    ),
    event('console', { path, level: text(60), text: long }),
    event('request', {
      path,
      method: text(60),
      url: long,
      status: { ...count, minimum: -1 },
      ms: number,
    }),
    event('exchange', { path, url: long, askedAtMs: number, hash }),
    event('page', { path, url: long, title: long }),
    event('value', { path, name: text(), value: long }),
    event(
      'evidence',
      { kind: { enum: ['video', 'page-source', 'display'] }, hash },
      { path, startMs: number },
    ),
    event('note', { text: long }),
    event('recovery-started', { ...recovery, policy: text(), from: long, words: long, because: long }),
    event(
      'recovery-ended',
      { ...recovery, result: { enum: ['worked', 'failed'] }, ms: count },
      { message: long, tag: text(), application: text(), failure, note: long },
    ),
    event('begun-again', { round: count }),
  ],
} as const

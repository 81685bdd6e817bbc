/** A rotation: a saved plan of what runs where, how, and when. Its file form, its schema and the way between them. */
import { parseDurationMs } from './durations'
import { DURATION, EXTENSIONS, KEY, object, PARAMETERS, TEXT } from './schema-parts'
import { MISSED, ON_BLACKOUT, WHILE_RUNNING, type Priority, type Rotation, type RotationTimes, type RotationWhat } from './types'

export const NEWEST_BUILD = 'newest'
const LIMIT_MS = 120_000

const moment = { type: 'string', minLength: 10, maxLength: 40 }
const rule = { type: ['string', 'null'], maxLength: 300, description: 'a recurrence (RFC 5545), or null for once' }
const list = { type: 'array', items: TEXT, minItems: 1, maxItems: 5000, uniqueItems: true }

export const rotationSchema = {
  $id: 'rotation.json',
  title: 'A rotation: what runs where, how and when',
  ...object({
    rotation: KEY,
    title: TEXT,
    what: { ...object({ suite: KEY, rule: TEXT, cases: list, with: PARAMETERS }), oneOf: ['suite', 'rule', 'cases'].map((what) => ({ required: [what] })) },
    build: { type: 'string', pattern: '^[A-Za-z0-9][A-Za-z0-9._-]{0,59}$', description: 'a label, or newest' },
    environments: { ...list, maxItems: 100 },
    retries: { type: 'integer', minimum: 0, maximum: 2 },
    limit: DURATION,
    priority: { enum: ['low', 'normal', 'high', 'critical'] },
    when: object({
      rule, timezone: TEXT, start: moment, until: moment, except: { type: 'array', items: moment, maxItems: 1000 },
      blackout: { type: 'array', items: object({ rule, start: moment, end: moment }, ['start', 'end']), maxItems: 100 },
      onBlackout: { enum: [...ON_BLACKOUT] }, missed: { enum: [...MISSED] }, whileRunning: { enum: [...WHILE_RUNNING] },
    }, ['timezone', 'start']),
    paused: { type: 'boolean' },
  }, ['rotation', 'title', 'what', 'environments']),
  patternProperties: EXTENSIONS,
}

type Scalars = Record<string, string | number | boolean>
type File = {
  rotation: string; title: string; what: Omit<RotationWhat, 'with'> & { with?: Scalars }; build?: string; environments: string[]; retries?: number; limit?: string | number; priority?: Priority
  when?: Partial<RotationTimes> & Pick<RotationTimes, 'timezone' | 'start'>; paused?: boolean
}

export function normaliseRotation(raw: unknown): Rotation {
  const { rotation: key, title, what, build = NEWEST_BUILD, environments, retries = 1, limit, priority = 'normal', when, paused = false } = raw as File
  return {
    kind: 'rotation', key, title, what: { ...what, with: Object.fromEntries(Object.entries(what.with ?? {}).map(([name, value]) => [name, String(value)])) }, build, environments, retries,
    limitMs: limit === undefined ? LIMIT_MS : parseDurationMs(limit)!, priority,
    ...(when && { when: { ...when, rule: when.rule ?? null, except: when.except ?? [], blackout: when.blackout ?? [], onBlackout: when.onBlackout ?? 'skip', missed: when.missed ?? 'skip', whileRunning: when.whileRunning ?? 'start' } }), paused,
  }
}

/** In the form its file has; what is as usual is left out. */
export function rotationForm({ key, title, what, build, environments, retries, limitMs, priority, when, paused }: Rotation): Record<string, unknown> {
  const { with: given, ...named } = what
  return {
    rotation: key, title, what: { ...named, ...(Object.keys(given).length > 0 && { with: given }) }, ...(build !== NEWEST_BUILD && { build }), environments, ...(retries !== 1 && { retries }),
    ...(limitMs !== LIMIT_MS && { limit: limitMs % 60_000 === 0 ? `${limitMs / 60_000}m` : limitMs % 1000 === 0 ? `${limitMs / 1000}s` : `${limitMs}ms` }), ...(priority !== 'normal' && { priority }), ...(when && { when: whenForm(when) }), ...(paused && { paused }),
  }
}

function whenForm({ rule: recurrence, except, blackout, onBlackout, missed, whileRunning, ...rest }: RotationTimes): Record<string, unknown> {
  return { ...(recurrence !== null && { rule: recurrence }), ...rest, ...(except.length > 0 && { except }), ...(blackout.length > 0 && { blackout, onBlackout }), ...(missed !== 'skip' && { missed }), ...(whileRunning !== 'start' && { whileRunning }) }
}

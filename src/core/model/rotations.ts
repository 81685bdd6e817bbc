/** A rotation: a saved plan of what runs where, how, and when. Its file form, its schema and the way between them. */
import { durationText, parseDurationMs } from './durations'
import { normaliseSteps } from './normalise'
import {
  AXES,
  CAPTURES,
  COVERS,
  EVIDENCE_KINDS,
  FAILURE_KINDS,
  FOLLOW_ON,
  MISSED,
  ON_BLACKOUT,
  RETRY_AGENTS,
  SPREADS,
  WHILE_RUNNING,
  type Capture,
  type Cover,
  type EvidenceKind,
  type EnvironmentRule,
  type FailureKind,
  type Priority,
  type RetryAgent,
  type Rotation,
  type RotationHow,
  type RotationPart,
  type RotationTimes,
  type RotationWhere,
  type Spread,
} from './types'
import { DURATION, EXTENSIONS, KEY, object, PARAMETERS, ref, TEXT } from './schema-parts'
import { stepDefinitions } from './step-schemas'

export const NEWEST_BUILD = 'newest'
const LIMIT_MS = 120_000
export const USUAL_HOW: RotationHow = {
  settleMs: 0,
  betweenMs: 0,
  screens: 'always',
  video: 'always',
  console: 'always',
  network: 'always',
  keep: {},
}

const moment = { type: 'string', minLength: 10, maxLength: 40 }
const rule = {
  type: ['string', 'null'],
  maxLength: 300,
  description: 'a recurrence (RFC 5545), or null for once',
}
const texts = (maxItems: number) => ({ type: 'array', items: TEXT, minItems: 1, maxItems, uniqueItems: true })
const capture = { enum: [...CAPTURES] }
export const KEEP_DAYS_MOST = 3650
export const keepDays = { type: 'integer', minimum: 1, maximum: KEEP_DAYS_MOST, description: 'days' }
const axes = object(Object.fromEntries(AXES.map((axis) => [axis, texts(100)])))
const axisRule = {
  ...object(
    Object.fromEntries(
      AXES.map((axis) => [axis, { type: ['string', 'array'], items: TEXT, minItems: 1, minLength: 1 }]),
    ),
  ),
  minProperties: 1,
}
const axisRules = { type: 'array', items: axisRule, maxItems: 200 }
const part = { ...object({ suite: KEY, rule: TEXT, case: KEY }), minProperties: 1, maxProperties: 1 }

export const rotationSchema = {
  $id: 'rotation.json',
  title: 'A rotation: what runs where, how and when',
  definitions: stepDefinitions,
  ...object(
    {
      rotation: KEY,
      title: TEXT,
      what: {
        type: 'array',
        items: part,
        maxItems: 500,
        description: 'suites, rules (tag expressions) and cases, in the order they run',
      },
      with: PARAMETERS,
      before: ref('steps'),
      after: ref('steps'),
      build: {
        type: 'string',
        pattern: '^[A-Za-z0-9][A-Za-z0-9._-]{0,59}$',
        description: 'a label, or newest',
      },
      where: object({
        environments: texts(100),
        axes,
        cover: { enum: [...COVERS] },
        never: axisRules,
        always: axisRules,
        pool: TEXT,
        spread: { enum: [...SPREADS] },
        leaveOut: {
          type: 'boolean',
          description: 'what can be placed nowhere is left out, and the rest runs',
        },
        lanes: {
          type: 'object',
          additionalProperties: TEXT,
          propertyNames: { pattern: KEY.pattern },
          maxProperties: 5000,
          description: 'agent by case',
        },
      }),
      how: object({
        settle: DURATION,
        between: DURATION,
        screens: capture,
        video: capture,
        console: capture,
        network: capture,
        keep: object(Object.fromEntries(EVIDENCE_KINDS.map((kind) => [kind, keepDays]))),
      }),
      retries: { type: 'integer', minimum: 0, maximum: 2 },
      retryOn: {
        type: 'array',
        items: { enum: [...FAILURE_KINDS] },
        minItems: 1,
        uniqueItems: true,
        description: 'kinds of failures that are tried again',
      },
      retryAgent: { enum: [...RETRY_AGENTS], description: 'where a second try goes' },
      policy: { ...KEY, description: 'a recovery policy, after those of cases and suites' },
      limit: DURATION,
      runLimit: DURATION,
      stopAfter: {
        type: 'integer',
        minimum: 1,
        maximum: 10_000,
        description: 'failures after which the rest is not begun',
      },
      priority: { enum: ['low', 'normal', 'high', 'critical'] },
      when: object(
        {
          rule,
          timezone: TEXT,
          start: moment,
          until: moment,
          except: { type: 'array', items: moment, maxItems: 1000 },
          blackout: {
            type: 'array',
            items: object({ rule, start: moment, end: moment }, ['start', 'end']),
            maxItems: 100,
          },
          calendars: texts(20),
          onBlackout: { enum: [...ON_BLACKOUT] },
          moves: {
            type: 'array',
            items: object({ from: moment, to: moment }, ['from', 'to']),
            maxItems: 1000,
          },
          missed: { enum: [...MISSED] },
          whileRunning: { enum: [...WHILE_RUNNING] },
          notWith: { ...texts(50), items: KEY },
        },
        ['timezone', 'start'],
      ),
      follows: object({ rotation: KEY, on: { enum: [...FOLLOW_ON] } }, ['rotation']),
      paused: { type: 'boolean' },
    },
    ['rotation', 'title', 'what', 'where'],
  ),
  patternProperties: EXTENSIONS,
}

type Scalars = Record<string, string | number | boolean>
type RawRule = Partial<Record<keyof EnvironmentRule, string | string[]>>
type File = {
  rotation: string
  title: string
  what: RotationPart[]
  with?: Scalars
  before?: never[]
  after?: never[]
  build?: string
  where: {
    environments?: string[]
    axes?: EnvironmentRule
    cover?: Cover
    never?: RawRule[]
    always?: RawRule[]
    pool?: string
    spread?: Spread
    leaveOut?: boolean
    lanes?: Record<string, string>
  }
  how?: { settle?: string | number; between?: string | number } & Partial<
    Record<EvidenceKind, Capture> & Pick<RotationHow, 'keep'>
  >
  retries?: number
  retryOn?: FailureKind[]
  retryAgent?: RetryAgent
  policy?: string
  limit?: string | number
  runLimit?: string | number
  stopAfter?: number
  priority?: Priority
  when?: Partial<RotationTimes> & Pick<RotationTimes, 'timezone' | 'start'>
  follows?: { rotation: string; on?: 'ended' | 'passed' }
  paused?: boolean
}

export function normaliseRotation(raw: unknown, lineOf: (path: (string | number)[]) => number): Rotation {
  const file = raw as File
  const {
    rotation: key,
    title,
    what,
    build = NEWEST_BUILD,
    retries = 1,
    retryOn,
    retryAgent = 'any',
    policy,
    limit,
    runLimit,
    stopAfter,
    priority = 'normal',
    when,
    follows,
    paused = false,
  } = file
  return {
    kind: 'rotation',
    key,
    title,
    what,
    with: Object.fromEntries(Object.entries(file.with ?? {}).map(([name, value]) => [name, String(value)])),
    before: normaliseSteps(file.before ?? [], ['before'], lineOf),
    after: normaliseSteps(file.after ?? [], ['after'], lineOf),
    build,
    where: whereOf(file.where),
    how: howOf(file.how),
    retries,
    retryAgent,
    ...(retryOn && { retryOn }),
    ...(policy !== undefined && { policy }),
    limitMs: limit === undefined ? LIMIT_MS : parseDurationMs(limit)!,
    ...(runLimit !== undefined && { runLimitMs: parseDurationMs(runLimit)! }),
    ...(stopAfter !== undefined && { stopAfter }),
    priority,
    ...(when && {
      when: {
        ...when,
        rule: when.rule ?? null,
        except: when.except ?? [],
        blackout: when.blackout ?? [],
        calendars: when.calendars ?? [],
        onBlackout: when.onBlackout ?? 'skip',
        moves: when.moves ?? [],
        missed: when.missed ?? 'skip',
        whileRunning: when.whileRunning ?? 'start',
        notWith: when.notWith ?? [],
      },
    }),
    ...(follows && { follows: { rotation: follows.rotation, on: follows.on ?? 'ended' } }),
    paused,
  }
}

const ruleOf = (raw: RawRule): EnvironmentRule =>
  Object.fromEntries(Object.entries(raw).map(([axis, values]) => [axis, [values].flat()]))
const whereOf = ({
  environments,
  axes: given,
  cover = 'all',
  never = [],
  always = [],
  pool,
  spread = 'split',
  leaveOut = false,
  lanes = {},
}: File['where']): RotationWhere => ({
  ...(environments && { environments }),
  ...(given && { axes: given }),
  cover,
  never: never.map(ruleOf),
  always: always.map(ruleOf),
  ...(pool !== undefined && { pool }),
  spread,
  leaveOut,
  lanes,
})
const howOf = ({ settle, between, ...kept }: NonNullable<File['how']> = {}): RotationHow => ({
  ...USUAL_HOW,
  ...kept,
  ...(settle !== undefined && { settleMs: parseDurationMs(settle)! }),
  ...(between !== undefined && { betweenMs: parseDurationMs(between)! }),
})

type Raw = Record<string, unknown>
const given = (fields: Raw): Raw =>
  Object.fromEntries(
    Object.entries(fields).filter(
      ([, value]) =>
        value !== undefined &&
        !(typeof value === 'object' && value !== null && Object.keys(value).length === 0),
    ),
  )
const unless = <T>(value: T, usual: T): T | undefined => (value === usual ? undefined : value)
/** In the form its file has; what is as usual is left out. */
export function rotationForm(rotation: Rotation, stepForm: (step: Rotation['before'][number]) => Raw): Raw {
  const {
    key,
    title,
    what,
    before,
    after,
    build,
    where,
    how,
    retries,
    retryOn,
    retryAgent,
    policy,
    limitMs,
    runLimitMs,
    stopAfter,
    priority,
    when,
    follows,
    paused,
  } = rotation
  return {
    rotation: key,
    title,
    what,
    ...given({
      with: rotation.with,
      before: before.map(stepForm),
      after: after.map(stepForm),
      build: unless(build, NEWEST_BUILD),
      where: whereForm(where),
    }),
    ...(Object.keys(whereForm(where)).length === 0 && { where: {} }),
    ...given({
      how: howForm(how),
      retries: unless(retries, 1),
      retryOn,
      retryAgent: unless(retryAgent, 'any'),
      policy,
      limit: limitMs === LIMIT_MS ? undefined : durationText(limitMs),
      runLimit: runLimitMs === undefined ? undefined : durationText(runLimitMs),
      stopAfter,
      priority: unless(priority, 'normal'),
      when: when && whenForm(when),
      follows: follows && given({ ...follows, on: unless(follows.on, 'ended') }),
      paused: unless(paused, false),
    }),
  }
}

const ruleForm = (one: EnvironmentRule): Raw =>
  Object.fromEntries(
    Object.entries(one).map(([axis, values]) => [axis, values.length === 1 ? values[0] : values]),
  )
const whereForm = ({ cover, spread, leaveOut, never, always, ...rest }: RotationWhere): Raw =>
  given({
    ...rest,
    cover: unless(cover, 'all'),
    never: never.map(ruleForm),
    always: always.map(ruleForm),
    spread: unless(spread, 'split'),
    leaveOut: unless(leaveOut, false),
  })
const howForm = ({ settleMs, betweenMs, keep, ...kept }: RotationHow): Raw =>
  given({
    settle: settleMs === 0 ? undefined : durationText(settleMs),
    between: betweenMs === 0 ? undefined : durationText(betweenMs),
    ...Object.fromEntries(Object.entries(kept).map(([name, value]) => [name, unless(value, 'always')])),
    keep,
  })
function whenForm({
  rule: recurrence,
  timezone,
  start,
  onBlackout,
  missed,
  whileRunning,
  ...rest
}: RotationTimes): Raw {
  return given({
    rule: recurrence ?? undefined,
    timezone,
    start,
    ...rest,
    onBlackout: unless(onBlackout, 'skip'),
    missed: unless(missed, 'skip'),
    whileRunning: unless(whileRunning, 'start'),
  })
}

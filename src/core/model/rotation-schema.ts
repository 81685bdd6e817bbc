/** What the file of a rotation may hold. */
import {
  AXES,
  COVERS,
  FOLLOW_ON,
  MISSED,
  ON_BLACKOUT,
  RETRY_AGENTS,
  SPREADS,
  WHILE_RUNNING,
} from './rotation-types'
import { DURATION, EXTENSIONS, KEY, object, PARAMETERS, ref, TEXT } from './schema-parts'
import { stepDefinitions } from './step-schemas'
import { CAPTURES, EVIDENCE_KINDS, FAILURE_KINDS } from './types'

/** A case, or a case on one environment. */
const LANE_KEY = `${KEY.pattern.replace(/\$$/, '')}(@${KEY.pattern.replace(/^\^/, '').replace(/\$$/, '')})?$`

const moment = { type: 'string', minLength: 10, maxLength: 40 }
const rule = {
  type: ['string', 'null'],
  maxLength: 300,
  description: 'a recurrence (RFC 5545), or null for once',
}
const texts = (maxItems: number) => ({ type: 'array', items: TEXT, minItems: 1, maxItems, uniqueItems: true })
const capture = { enum: [...CAPTURES] }
/** Tries of a case run after its first, unless its start says otherwise; and how many there may be. */
export const USUAL_RETRIES = 1
export const RETRIES_MOST = 2
export const retriesSchema = { type: 'integer', minimum: 0, maximum: RETRIES_MOST } as const
export const KEEP_DAYS_MOST = 3650
export const keepDays = { type: 'integer', minimum: 1, maximum: KEEP_DAYS_MOST, description: 'days' } as const
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
      stage: {
        ...KEY,
        description: 'which addresses of the applications; the usual ones if nothing is said',
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
          propertyNames: { pattern: LANE_KEY },
          maxProperties: 5000,
          description: 'agent by case, or by case@environment',
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
      retries: retriesSchema,
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

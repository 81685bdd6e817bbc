/** What agents send, as JSON Schemas: the same that docs/agent-protocol.md shows. */
import { STATE_CHARS } from '@/core/model'
import type { AttemptResult, NumberedEvent } from '@/core/execution'
import type { Registration } from '@/db/agents'
import { closed, count, text } from '../http/schema-parts'
import { validator, validatorOf } from '../http/validator'
import type { Beat } from './agents'
import { eventSchema, failureSchema, TEXT_CHARS } from './event-schemas'
import type { Meeting } from './joint'

/** Events of one batch at the most; an agent sends what it has in several. */
const BATCH_EVENTS = 500
/** A request that waits is answered within this. */
const WAIT_MOST_MS = 25_000

const seat = { type: 'integer', minimum: 1, maximum: 100 } as const
const uuid = {
  type: 'string',
  pattern: '^[0-9a-f]{8}-[0-9a-f]{4}-[0-9a-f]{4}-[0-9a-f]{4}-[0-9a-f]{12}$',
} as const
const waitMs = { type: 'integer', minimum: 0, maximum: WAIT_MOST_MS } as const
const lease = count
const events = { type: 'array', items: eventSchema, maxItems: BATCH_EVENTS } as const
const values = { type: 'object', additionalProperties: text(TEXT_CHARS), maxProperties: 100 } as const
/** Who is signed in may be among them. */
const handoffs = { type: 'object', additionalProperties: text(STATE_CHARS), maxProperties: 100 } as const

const registration = closed(
  {
    name: { ...text(60), pattern: '^[a-z0-9][a-z0-9-]*$' },
    instance: text(60),
    pool: text(60),
    version: text(60),
    seats: { type: 'integer', minimum: 1, maximum: 100 },
    environments: { type: 'array', items: text(80), minItems: 1, maxItems: 100, uniqueItems: true },
    simulated: { type: 'boolean' },
  },
  {
    protocol: { type: 'integer', minimum: 1, maximum: 1000 },
    through: text(200),
    missing: { type: 'array', maxItems: 20, items: closed({ what: text(), get: text() }) },
  },
)
const clock = {
  type: 'string',
  format: 'date-time',
  pattern: '^\\d{4}-\\d\\d-\\d\\dT\\d\\d:\\d\\d:\\d\\d(\\.\\d{1,6})?Z$',
} as const
const hold = closed({ attemptId: uuid, lease: { ...count, minimum: 1 } })
const result = closed(
  { outcome: { enum: ['passed', 'failed', 'errored', 'cancelled', 'skipped'] }, ms: count },
  { failure: failureSchema, stopRun: text(TEXT_CHARS), handoffs },
)

export const agentBodies = {
  register: validatorOf<Omit<Registration, 'through'> & { through?: string; protocol?: number }>()(
    registration,
  ),
  claim: validator(closed({}, { seat, waitMs })),
  heartbeat: validatorOf<Beat>()(
    closed({ attempts: { type: 'array', items: hold, maxItems: 200 } }, { clock }),
  ),
  events: validatorOf<{ lease: number; events: NumberedEvent[] }>()(closed({ lease, events })),
  finish: validatorOf<{
    lease: number
    result: AttemptResult
    events?: NumberedEvent[]
    next?: { seat: number }
  }>()(closed({ lease, result }, { events, next: closed({ seat }) })),
  meeting: validatorOf<Meeting & { lease: number }>()(
    closed(
      { lease },
      {
        waitMs,
        needs: { type: 'array', items: text(), maxItems: 100 },
        arrives: closed({ point: text(), visit: { ...count, minimum: 1 } }),
        gives: values,
      },
    ),
  ),
  missing: validator(closed({ lease, hashes: { type: 'array', items: text(64), maxItems: 1000 } })),
}

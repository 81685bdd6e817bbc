/** What agents send, as JSON Schemas: the same that docs/agent-protocol.md shows. */
import type { AttemptResult, NumberedEvent } from '@/core/execution'
import type { Registration } from '@/db/agents'
import type { Beat } from './agents'
import type { Meeting } from './joint'
import { validator } from '../http/route'
import { count, eventSchema, failureSchema, text, TEXT_CHARS } from './event-schemas'

/** Events of one batch at the most; an agent sends what it has in several. */
const BATCH_EVENTS = 500
/** A request that waits is answered within this. */
const WAIT_MOST_MS = 25_000

const seat = { type: 'integer', minimum: 1, maximum: 100 }
const uuid = { type: 'string', pattern: '^[0-9a-f]{8}-[0-9a-f]{4}-[0-9a-f]{4}-[0-9a-f]{4}-[0-9a-f]{12}$' }
const object = (properties: Record<string, unknown>, required = Object.keys(properties)) => ({
  type: 'object',
  additionalProperties: false,
  properties,
  required,
})

const registration = object(
  {
    name: { ...text(60), pattern: '^[a-z0-9][a-z0-9-]*$' },
    instance: text(60),
    pool: text(60),
    version: text(60),
    protocol: { type: 'integer', minimum: 1, maximum: 1000 },
    seats: { type: 'integer', minimum: 1, maximum: 100 },
    environments: { type: 'array', items: text(80), minItems: 1, maxItems: 100, uniqueItems: true },
    simulated: { type: 'boolean' },
    through: text(200),
    missing: { type: 'array', maxItems: 20, items: object({ what: text(), get: text() }) },
  },
  ['name', 'instance', 'pool', 'version', 'seats', 'environments', 'simulated'],
)
const hold = object({ attemptId: uuid, lease: { ...count, minimum: 1 } })

export const agentBodies = {
  register: validator<Registration & { protocol?: number }>(registration),
  claim: validator<{ waitMs?: number; seat?: number }>(
    object({ seat, waitMs: { type: 'integer', minimum: 0, maximum: WAIT_MOST_MS } }, []),
  ),
  heartbeat: validator<Beat>(
    object(
      {
        attempts: { type: 'array', items: hold, maxItems: 200 },
        clock: {
          type: 'string',
          format: 'date-time',
          pattern: '^\\d{4}-\\d\\d-\\d\\dT\\d\\d:\\d\\d:\\d\\d(\\.\\d{1,6})?Z$',
        },
      },
      ['attempts'],
    ),
  ),
  events: validator<{ lease: number; events: NumberedEvent[] }>(
    object({ lease: count, events: { type: 'array', items: eventSchema, maxItems: BATCH_EVENTS } }),
  ),
  finish: validator<{
    lease: number
    result: AttemptResult
    events?: NumberedEvent[]
    next?: { seat: number }
  }>(
    object(
      {
        lease: count,
        next: object({ seat }),
        events: { type: 'array', items: eventSchema, maxItems: BATCH_EVENTS },
        result: object(
          {
            outcome: { enum: ['passed', 'failed', 'errored', 'cancelled', 'skipped'] },
            failure: failureSchema,
            ms: count,
            stopRun: text(TEXT_CHARS),
            handoffs: { type: 'object', additionalProperties: text(TEXT_CHARS), maxProperties: 100 },
          },
          ['outcome', 'ms'],
        ),
      },
      ['lease', 'result'],
    ),
  ),
  meeting: validator<Meeting & { lease: number }>(
    object(
      {
        lease: count,
        waitMs: { type: 'integer', minimum: 0, maximum: WAIT_MOST_MS },
        needs: { type: 'array', items: text(), maxItems: 100 },
        arrives: object({ point: text(), visit: { ...count, minimum: 1 } }),
        gives: { type: 'object', additionalProperties: text(TEXT_CHARS), maxProperties: 100 },
      },
      ['lease'],
    ),
  ),
  missing: validator<{ lease: number; hashes: string[] }>(
    object({ lease: count, hashes: { type: 'array', items: text(64), maxItems: 1000 } }),
  ),
}

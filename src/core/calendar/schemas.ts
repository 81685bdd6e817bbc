/** JSON Schemas of what calendar computations are given. */
import { object } from '../model/schema-parts'

const text = { type: 'string', minLength: 1, maxLength: 500 }
const optional = { type: ['string', 'null'], maxLength: 500 }

export const occurrencesSchema = {
  title: 'When something recurs',
  ...object(
    {
      rule: optional,
      timezone: text,
      start: text,
      until: optional,
      except: { type: 'array', items: text, maxItems: 10_000 },
      blackout: {
        type: 'array',
        items: object({ rule: optional, start: text, end: text }, ['start', 'end']),
        maxItems: 1000,
      },
      onBlackout: { enum: ['skip', 'delay'] },
      from: text,
      to: text,
    },
    ['rule', 'timezone', 'start', 'from', 'to'],
  ),
}

const ms = { type: 'number', minimum: 0 }
export const clashesSchema = {
  title: 'When occurrences want more than there is',
  ...object(
    {
      pools: {
        type: 'array',
        items: object({ id: text, seats: { type: 'integer', minimum: 0 } }, ['id', 'seats']),
      },
      occurrences: {
        type: 'array',
        items: object(
          {
            id: text,
            pool: text,
            at: text,
            p50Ms: ms,
            p90Ms: ms,
            seats: { type: 'integer', minimum: 0 },
            exclusive: { type: 'array', items: text },
          },
          ['id', 'pool', 'at', 'p50Ms', 'p90Ms', 'seats'],
        ),
      },
    },
    ['pools', 'occurrences'],
  ),
}

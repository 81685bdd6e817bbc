/** JSON Schemas of what planning computations are given. */
import { object } from '../model/schema-parts'

const text = { type: 'string', minLength: 1, maxLength: 300 }
const ms = { type: 'integer', minimum: 0, maximum: 1e12 }
const instant = { type: 'integer', minimum: -1e15, maximum: 1e15 }
const seed = { type: 'integer', minimum: 0, maximum: 4_294_967_295 }
const budgetMs = { type: 'integer', minimum: 0, maximum: 60_000 }

const level = { type: ['string', 'number', 'boolean'] }
const rule = {
  type: 'object',
  minProperties: 1,
  additionalProperties: { anyOf: [level, { type: 'array', items: level, minItems: 1 }] },
}
export const matrixSchema = {
  title: 'Environments out of axes and rules',
  ...object(
    {
      axes: {
        type: 'object',
        minProperties: 1,
        maxProperties: 200,
        additionalProperties: { type: 'array', items: level, minItems: 1, maxItems: 1000 },
      },
      strength: { enum: ['all', 2, 3] },
      forbid: { type: 'array', items: rule, maxItems: 1000 },
      require: { type: 'array', items: rule, maxItems: 1000 },
      seed,
      budgetMs,
    },
    ['axes', 'strength'],
  ),
}

export const estimateSchema = {
  title: 'How long case runs will take',
  ...object(
    {
      history: {
        type: 'array',
        items: object(
          { case: text, environment: text, ms: { type: 'number', minimum: 0 }, endedAt: text, outcome: text },
          ['case', 'environment', 'ms', 'endedAt', 'outcome'],
        ),
      },
      wanted: {
        type: 'array',
        items: object({ case: text, environment: text, steps: { type: 'integer', minimum: 0 } }, [
          'case',
          'environment',
        ]),
      },
      now: text,
    },
    ['history', 'wanted', 'now'],
  ),
}

const agent = object(
  {
    id: text,
    seats: { type: 'integer', minimum: 0, maximum: 10_000 },
    environments: { type: 'array', items: text },
    speed: { type: 'number', exclusiveMinimum: 0 },
    from: instant,
    until: { ...instant, type: ['integer', 'null'] },
  },
  ['id', 'seats', 'environments'],
)
const workProperties = {
  id: text,
  environment: text,
  ms,
  after: { type: 'array', items: text },
  exclusive: { type: 'array', items: text },
  priority: { type: 'number' },
  together: text,
  agent: text,
}
const planProperties = {
  agents: { type: 'array', items: agent },
  switchMs: object({ same: ms, other: ms }, []),
  spread: { enum: ['sequence', 'split', 'everywhere', 'assigned'] },
  now: instant,
  budgetMs,
  seed,
}
export const planSchema = {
  title: 'Work to seats',
  ...object(
    {
      ...planProperties,
      work: { type: 'array', items: object(workProperties, ['id', 'environment', 'ms']) },
    },
    ['agents', 'work', 'spread'],
  ),
}

export const forecastSchema = {
  title: 'When it will finish',
  ...object(
    {
      ...planProperties,
      work: {
        type: 'array',
        items: object(
          { ...workProperties, p90Ms: ms, failRate: { type: 'number', minimum: 0, maximum: 1 } },
          ['id', 'environment', 'ms'],
        ),
      },
      retries: { type: 'integer', minimum: 0, maximum: 10 },
      agentLossPerHour: { type: 'number', minimum: 0 },
      draws: { type: 'integer', minimum: 1, maximum: 100_000 },
    },
    ['agents', 'work', 'spread'],
  ),
}

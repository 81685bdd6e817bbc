/** JSON Schemas of what computations of triage are given. */
import { object } from '../model/schema-parts'
import { CAUSES } from './evidence'

const factors = {
  type: 'object',
  maxProperties: 12,
  additionalProperties: {
    anyOf: [{ type: 'string', maxLength: 500 }, { type: 'number' }, { type: 'boolean' }],
  },
}

export const whereSchema = {
  title: 'Where failures happen',
  ...object(
    {
      rows: {
        type: 'array',
        items: object({ failed: { type: 'boolean' }, factors }, ['failed', 'factors']),
        maxItems: 50_000,
      },
    },
    ['rows'],
  ),
}

const share = { type: 'number', minimum: 0, maximum: 1 }
const count = { type: 'integer', minimum: 0 }
const causeName = { enum: [...CAUSES] }
const facts = object(
  {
    kinds: { type: 'object', maxProperties: 100, additionalProperties: { type: 'number', minimum: 0 } },
    failures: count,
    cases: count,
    environments: object({ failed: count, of: count }, ['failed', 'of']),
    where: {
      type: 'array',
      items: object({ factors, ratio: { type: ['number', 'null'] }, p: share, covers: share }, [
        'factors',
        'ratio',
        'p',
        'covers',
      ]),
      maxItems: 100,
    },
    newInBuild: { type: 'boolean' },
    flakyBefore: share,
    agents: object({ involved: count, unhealthy: count }, ['involved', 'unhealthy']),
    recovered: share,
    similar: {
      type: 'array',
      items: object({ cause: causeName, score: share }, ['cause', 'score']),
      maxItems: 1000,
    },
  },
  ['kinds', 'failures', 'cases', 'environments', 'where', 'flakyBefore', 'agents', 'recovered', 'similar'],
)
export const causeSchema = {
  title: 'What kind of cause a group of failures likely has',
  ...object(
    {
      group: facts,
      decisions: {
        type: 'array',
        items: object({ group: facts, cause: causeName }, ['group', 'cause']),
        maxItems: 2000,
      },
    },
    ['group'],
  ),
}

const id = { type: 'string', minLength: 1, maxLength: 500 }
const long = { type: 'string', maxLength: 2_100_000 }
export const groupSchema = {
  title: 'Failures to causes',
  ...object(
    {
      failures: {
        type: 'array',
        items: object(
          {
            id,
            kind: id,
            message: long,
            stack: long,
            step: { type: 'string', maxLength: 5000 },
            case: { type: 'string', maxLength: 5000 },
            url: { type: 'string', maxLength: 20_000 },
            console: { type: 'array', items: long, maxItems: 1000 },
          },
          ['id', 'kind', 'message'],
        ),
        maxItems: 100_000,
      },
      known: {
        type: 'array',
        items: object({ signature: { type: 'string', maxLength: 5000 }, id }, ['signature', 'id']),
        maxItems: 100_000,
      },
    },
    ['failures'],
  ),
}

const described = {
  title: { type: 'string', maxLength: 2000 },
  text: { type: 'string', maxLength: 2_000_000 },
  signature: { type: 'string', maxLength: 5000 },
  where: factors,
}
const place = { type: 'string', pattern: '^\\d{1,4}(\\.\\d{1,4}){0,9}$' }
const places = { type: 'array', items: place, maxItems: 200 }
export const shortenSchema = {
  title: 'Which steps of a failure to try next',
  ...object(
    {
      steps: {
        type: 'array',
        items: object({ place, looks: { type: 'boolean' } }, ['place']),
        minItems: 1,
        maxItems: 200,
      },
      failing: place,
      tries: {
        type: 'array',
        items: object({ kept: places, same: { type: 'boolean' } }, ['kept', 'same']),
        maxItems: 1000,
      },
      most: { type: 'integer', minimum: 1, maximum: 1000 },
    },
    ['steps', 'failing', 'tries', 'most'],
  ),
}
export const similarSchema = {
  title: 'Which known defects a draft is like',
  ...object(
    {
      draft: object({ id, ...described }, ['title', 'text']),
      defects: {
        type: 'array',
        items: object({ id, ...described }, ['id', 'title', 'text']),
        maxItems: 20_000,
      },
    },
    ['draft', 'defects'],
  ),
}

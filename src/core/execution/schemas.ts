/** JSON Schemas of what computations of the execution are given. */
import { object } from '../model/schema-parts'
import { conditionSchema, FAILURE_KINDS, RESUMES } from '../model'

const id = { type: 'string', minLength: 1, maxLength: 200 }
const text = { type: 'string', maxLength: 100_000 }
const ms = { type: 'number', minimum: 0 }
const count = { type: 'integer', minimum: 0 }
const kind = { enum: [...FAILURE_KINDS] }

export const recoverSchema = {
  title: 'What to do about a failure',
  ...object(
    {
      policy: object(
        {
          rules: {
            type: 'array',
            maxItems: 1000,
            items: object(
              {
                id,
                when: conditionSchema,
                do: { type: 'array', description: 'its steps: carried out elsewhere' },
                resume: { enum: [...RESUMES] },
                most: count,
                mostInRun: count,
                waitMs: ms,
                grow: { type: 'number', exclusiveMinimum: 0, maximum: 1000 },
              },
              ['id', 'when', 'resume', 'most'],
            ),
          },
          retries: object({ case: count, on: { type: 'array', items: kind } }, ['case']),
          budgetMs: ms,
        },
        ['rules', 'retries'],
      ),
      failure: object(
        {
          kind,
          message: text,
          step: id,
          environment: { type: 'object', additionalProperties: { type: 'string' } },
          application: id,
        },
        ['kind', 'message'],
      ),
      history: {
        type: 'array',
        maxItems: 100_000,
        items: object({ rule: { anyOf: [id, { type: 'null' }] }, result: { enum: ['worked', 'failed'] } }, [
          'rule',
          'result',
        ]),
      },
      usedMs: ms,
      usedInRun: { type: 'object', additionalProperties: count },
    },
    ['policy', 'failure', 'history'],
  ),
}

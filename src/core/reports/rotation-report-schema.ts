/** What a report of a rotation is as JSON, for programs that read it. */
import { OUTCOMES } from '../execution'
import { allOf, count, moment, text } from './schema-parts'

/** JSON Schema, draft 2020-12. Served at /schemas/rotation-report.json. */
export const ROTATION_REPORT_SCHEMA = {
  $schema: 'https://json-schema.org/draft/2020-12/schema',
  title: 'A rotation over its last runs',
  ...allOf({
    rotation: { type: 'string', description: 'its key' },
    title: text,
    runs: {
      type: 'array',
      description: 'the oldest first',
      items: allOf({
        id: count,
        title: text,
        build: text,
        startedAt: moment,
        endedAt: moment,
        counts: { type: 'object', description: 'case runs by their mark', additionalProperties: count },
      }),
    },
    cases: {
      type: 'array',
      description: 'those that failed most first',
      items: allOf({
        case: { type: 'string', description: 'its key' },
        title: text,
        row: { type: ['integer', 'null'], description: 'of its table of data, from 1' },
        environment: { type: 'string', description: 'a key of environments' },
        marks: {
          type: 'array',
          description: 'one for each run, in their order; null: it was not in it',
          items: { enum: [...OUTCOMES, null] },
        },
        failures: count,
        turns: { ...count, description: 'how often it went from passing to failing or back' },
        medianMs: { type: ['number', 'null'], minimum: 0, description: 'of what it took when it passed' },
      }),
    },
  }),
} as const

/** What a report of a run is as JSON, for programs that read it. */
import { OPEN_STATES, OUTCOMES } from '../execution'
import { allOf, count, moment, text, textOrNone } from './schema-parts'

/** JSON Schema, draft 2020-12. Served at /schemas/run-report.json. */
export const RUN_REPORT_SCHEMA = {
  $schema: 'https://json-schema.org/draft/2020-12/schema',
  title: 'A run and its case runs',
  ...allOf({
    id: count,
    title: text,
    build: text,
    state: text,
    counts: { type: 'object', description: 'case runs by their mark', additionalProperties: count },
    startedAt: moment,
    endedAt: moment,
    environments: { type: 'array', items: allOf({ key: text, title: text }) },
    cases: {
      type: 'array',
      items: allOf({
        group: text,
        case: { type: 'string', description: 'its key' },
        title: text,
        row: { type: ['string', 'null'], description: 'of its table of data' },
        environment: { type: 'string', description: 'a key of environments' },
        mark: { enum: [...OUTCOMES, ...OPEN_STATES] },
        attempts: count,
        durationMs: { type: ['number', 'null'], minimum: 0 },
        agent: textOrNone,
        attemptId: textOrNone,
        failure: textOrNone,
        failureKind: textOrNone,
        expected: textOrNone,
        actual: textOrNone,
        screen: { type: ['string', 'null'], description: 'SHA-256 of its last screen' },
      }),
    },
    leftOut: { type: 'array', items: allOf({ title: text, why: text }) },
  }),
} as const

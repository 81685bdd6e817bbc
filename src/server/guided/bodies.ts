/** What people send of guided runs. */
import { VERDICTS } from '@/core/live'
import { PICTURE_BYTES_MOST } from '../evidence'
import { validator, type BodyOf } from '../http/validator'

const UUID = '^[0-9a-f]{8}(-[0-9a-f]{4}){3}-[0-9a-f]{12}$'
const HASH = '^[0-9a-f]{64}$'
/** A fortnight of work on one case. */
const WORKED_MOST_MS = 14 * 86_400_000

export const saveBody = validator({
  type: 'object',
  additionalProperties: false,
  required: ['version', 'verdicts', 'workedMs', 'facts', 'video'],
  properties: {
    version: { type: 'integer', minimum: 0 },
    workedMs: { type: 'integer', minimum: 0, maximum: WORKED_MOST_MS },
    facts: {
      type: 'object',
      additionalProperties: { type: 'string', maxLength: 300 },
      maxProperties: 12,
      propertyNames: { maxLength: 40 },
    },
    video: {
      type: ['object', 'null'],
      additionalProperties: false,
      required: ['hash', 'startMs'],
      properties: {
        hash: { type: 'string', pattern: HASH },
        startMs: { type: 'integer', minimum: 0, maximum: WORKED_MOST_MS },
      },
    },
    verdicts: {
      type: 'array',
      maxItems: 2000,
      items: {
        type: 'object',
        additionalProperties: false,
        required: ['path', 'is', 'note', 'atMs', 'pictures'],
        properties: {
          path: { type: 'string', minLength: 1, maxLength: 200 },
          is: { enum: VERDICTS },
          note: { type: 'string', maxLength: 2000 },
          atMs: { type: 'integer', minimum: 0, maximum: WORKED_MOST_MS },
          pictures: {
            type: 'array',
            maxItems: 2,
            items: {
              type: 'object',
              additionalProperties: false,
              required: ['hash', 'width', 'height'],
              properties: {
                hash: { type: 'string', pattern: HASH },
                width: { type: 'integer', minimum: 1, maximum: 20_000 },
                height: { type: 'integer', minimum: 1, maximum: 20_000 },
              },
            },
          },
        },
      },
    },
  },
})
export type SaveRequest = BodyOf<typeof saveBody>

export const concludeBody = validator({
  type: 'object',
  additionalProperties: false,
  required: ['version'],
  properties: { version: { type: 'integer', minimum: 0 } },
})

/** PNG, JPEG or WebP in base64. */
export const pictureBody = validator({
  type: 'object',
  additionalProperties: false,
  required: ['bytes'],
  properties: { bytes: { type: 'string', maxLength: 4 * Math.ceil(PICTURE_BYTES_MOST / 3) } },
})
export const PICTURE_BODY_BYTES = 4 * Math.ceil(PICTURE_BYTES_MOST / 3) + 1000

export const assignBody = validator({
  type: 'object',
  additionalProperties: false,
  required: ['caseRuns', 'person'],
  properties: {
    caseRuns: {
      type: 'array',
      minItems: 1,
      maxItems: 2000,
      uniqueItems: true,
      items: { type: 'string', pattern: UUID },
    },
    /** Empty: nobody's. */
    person: { type: 'string', maxLength: 120 },
  },
})
export type AssignRequest = BodyOf<typeof assignBody>

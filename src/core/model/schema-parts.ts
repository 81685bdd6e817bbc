/** Small pieces that the schemas of all kinds are made of. */
import { DURATION_PATTERN } from './durations'

export const KEY = { type: 'string', pattern: '^[a-z0-9][a-z0-9-]*$', maxLength: 80 }
/** What a value is kept under. */
export const NAME = { type: 'string', pattern: '^[A-Za-z][A-Za-z0-9_]*$', maxLength: 80 }
export const TEXT = { type: 'string', minLength: 1, maxLength: 300 }
export const VALUE = { type: ['string', 'number', 'boolean'] }
export const NUMBER_OR_VALUE = { type: ['number', 'string'] }
export const DURATION = {
  type: ['string', 'integer'],
  pattern: DURATION_PATTERN,
  maxLength: 60,
  minimum: 0,
  description: '500ms, 30s, 2m, 1h30m',
}
export const PARAMETERS = {
  type: 'object',
  additionalProperties: VALUE,
  propertyNames: { pattern: NAME.pattern },
}
export const EXTENSIONS = { '^x-': {} }

export const object = (properties: Record<string, unknown>, required: string[] = []) => ({
  type: 'object',
  additionalProperties: false,
  properties,
  required,
})
export const ref = (name: string) => ({ $ref: `#/definitions/${name}` })

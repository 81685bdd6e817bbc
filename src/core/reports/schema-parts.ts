/** Parts of the schemas of reports. */
export const text = { type: 'string' } as const
export const textOrNone = { type: ['string', 'null'] } as const
export const moment = { type: ['string', 'null'], format: 'date-time' } as const
export const count = { type: 'integer', minimum: 0 } as const
/** An object of all these and nothing else. */
export const allOf = <P extends Record<string, object>>(properties: P) => ({
  type: 'object',
  additionalProperties: false,
  required: Object.keys(properties),
  properties,
})

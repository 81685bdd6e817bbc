/** JSON Schemas of what computations of triage are given. */
const object = (properties: Record<string, object>, required: string[]) => ({
  type: 'object',
  additionalProperties: false,
  properties,
  required,
})

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

/** Small pieces that schemas of bodies are made of. Their types are kept, so that the type of a body follows
 * from its schema. */
import type { Schema } from './schema-type'

const INTEGER_MOST = 2_147_483_647

export const text = (most = 300) => ({ type: 'string', maxLength: most }) as const
export const count = { type: 'integer', minimum: 0, maximum: INTEGER_MOST } as const
export const number = { type: 'number', minimum: -INTEGER_MOST, maximum: INTEGER_MOST } as const

export type Fields = Record<string, Schema>
export type None = Record<never, never>

/** An object with all of `fields`; those of `optional` may be left out, and others are taken as well. */
export const open = <const F extends Fields, const O extends Fields = None>(fields: F, optional?: O) =>
  ({ type: 'object', properties: { ...fields, ...optional } as F & O, required: namesOf(fields) }) as const

/** An object with all of `fields`; those of `optional` may be left out, and there are no others. */
export const closed = <const F extends Fields, const O extends Fields = None>(fields: F, optional?: O) =>
  ({ ...open(fields, optional), additionalProperties: false }) as const

const namesOf = <F extends Fields>(fields: F) => Object.keys(fields) as (keyof F & string)[]

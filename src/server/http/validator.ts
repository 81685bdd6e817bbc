/** Validators of what is sent here. The type of a body is made from its schema, so that
 * the two cannot differ. */
import Ajv, { type AnySchema, type ValidateFunction } from 'ajv'
import type { Schema, TypeOf } from './schema-type'

const ajv = new Ajv({
  allErrors: true,
  strict: true,
  strictTypes: false,
  strictRequired: false,
  allowUnionTypes: true,
  coerceTypes: false,
  discriminator: true,
})
/** A moment that exists: PostgreSQL refuses the 30th of February. */
ajv.addFormat('date-time', (written) => !Number.isNaN(Date.parse(written)))

/** A validator of a body; the schema is compiled once, at load. */
export const validator = <const S extends Schema>(schema: S): ValidateFunction<TypeOf<S>> =>
  ajv.compile<TypeOf<S>>(schema as AnySchema)

/** What a validator lets through. */
export type BodyOf<V> = V extends ValidateFunction<infer T> ? T : never

/** A validator of a type that stands elsewhere: does not compile where the schema lets through anything else,
 * or does not know one of the type's fields. */
export const validatorOf =
  <T>() =>
  <const S extends Schema>(schema: S & Matches<TypeOf<S>, T>): ValidateFunction<T> =>
    ajv.compile<T>(schema as AnySchema)

type Matches<Made, T> = Made extends T
  ? EveryField<T> extends EveryField<Made>
    ? unknown
    : { 'the schema lacks fields of': T }
  : { 'the schema allows more than': T }

/** A type with each of its fields required, however deep: so fields that may be left out count, too. */
type EveryField<T> = T extends readonly (infer Item)[]
  ? EveryField<Item>[]
  : T extends object
    ? { [Key in keyof T]-?: EveryField<Exclude<T[Key], undefined>> }
    : T

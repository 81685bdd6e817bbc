/** Validators of what is sent here. The type of a body is made from its schema, so that
 * the two cannot differ. */
import Ajv, { type AnySchema, type ErrorObject, type ValidateFunction } from 'ajv'
import type { Schema, TypeOf } from './schema-type'

// Not inlined and not made shorter: with both, compiling takes three times as long and validating no less.
const ajv = new Ajv({
  inlineRefs: false,
  code: { optimize: false },
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

/** Says whether a value is as its schema wants it; what is wrong stands in `errors` until it is asked
 * again. */
export type Validator<T> = ((value: unknown) => value is T) & {
  readonly schema: object
  errors?: ErrorObject[] | null
}

const all: (() => unknown)[] = []

/** Compiled when it is first asked: a process starts sooner, and most need few of them. */
function compiledWhenAsked<T>(schema: object): Validator<T> {
  let compiled: ValidateFunction<T> | undefined
  const compile = () => (compiled ??= ajv.compile<T>(schema as AnySchema))
  const validate = (value: unknown): value is T => {
    const ours = compile()
    const valid = ours(value)
    validator.errors = ours.errors
    return valid === true
  }
  const validator: Validator<T> = Object.assign(validate, { schema })
  all.push(compile)
  return validator
}

/** Compiles every schema that was loaded, so that a test finds one that cannot be. @returns how many */
export function compileAll(): number {
  for (const compile of all) compile()
  return all.length
}

/** A validator of a body. */
export const validator = <const S extends Schema>(schema: S): Validator<TypeOf<S>> =>
  compiledWhenAsked<TypeOf<S>>(schema)

/** What a validator lets through. */
export type BodyOf<V> = V extends Validator<infer T> ? T : never

/** A validator of a type that stands elsewhere: does not compile where the schema lets through anything else,
 * or does not know one of the type's fields. */
export const validatorOf =
  <T>() =>
  <const S extends Schema>(schema: S & Matches<TypeOf<S>, T>): Validator<T> =>
    compiledWhenAsked<T>(schema)

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

/** The type of what a JSON Schema lets through, for the keywords that schemas of bodies are made of: `type`,
 * `properties`, `required`, `items`, `additionalProperties`, `enum`, `const`, `oneOf` and `anyOf`. Packages
 * that know all keywords take the compiler minutes, and all memory it has, on the events of agents. */

/** A schema as it is written here; what else it says (lengths, patterns) narrows no type. */
export type Schema = { readonly [keyword: string]: unknown }

export type TypeOf<S> = S extends { readonly const: infer Value }
  ? Value
  : S extends { readonly enum: readonly (infer Value)[] }
    ? Value
    : S extends { readonly oneOf: readonly (infer Each)[] } | { readonly anyOf: readonly (infer Each)[] }
      ? EachOf<Each>
      : S extends { readonly type: infer Name }
        ? Named<Name extends readonly (infer Each)[] ? Each : Name, S>
        : unknown

/** Of a union of schemas: one by one. */
type EachOf<S> = S extends unknown ? TypeOf<S> : never

type Named<Name, S> = Name extends 'string'
  ? string
  : Name extends 'integer' | 'number'
    ? number
    : Name extends 'boolean'
      ? boolean
      : Name extends 'null'
        ? null
        : Name extends 'array'
          ? ItemsOf<S>[]
          : ObjectOf<S>

type ItemsOf<S> = S extends { readonly items: infer Items } ? TypeOf<Items> : unknown

type ObjectOf<S> = S extends { readonly properties: infer P }
  ? Plain<
      { [Key in keyof P as Key extends RequiredOf<S> ? Key : never]: TypeOf<P[Key]> } & {
        [Key in keyof P as Key extends RequiredOf<S> ? never : Key]?: TypeOf<P[Key]>
      }
    >
  : S extends { readonly additionalProperties: infer Each extends Schema }
    ? Record<string, TypeOf<Each>>
    : Record<string, unknown>

type RequiredOf<S> = S extends { readonly required: readonly (infer Name)[] } ? Name : never

/** One object type instead of two joined ones. */
type Plain<T> = { [Key in keyof T]: T[Key] }

/** `${name}` in written values: what stands for what, and what is missing. */

type Texts = Record<string, string>
/** What a value may refer to. `row`, `env`, `run` and `secret` are reached with a dot; names win over nothing
 * else. */
export type Scope = {
  names: Texts
  row: Texts
  env: Texts
  run: Texts
  secret?: Texts
  /** Makes a value for `fake.…` and `date(…)`; `undefined` when the expression is none of these. Same place,
   * same value. */
  generate?: (expression: string) => string | undefined
}

/** What any case may refer to, of its environment and its run. */
export const GIVEN_NAMES = [
  'env.key',
  'env.title',
  'env.browser',
  'env.os',
  'env.locale',
  'run.build',
  'run.id',
  'run.seed',
]

const REFERENCE = /\$\{([^}]*)\}/g

/** A value refers to something that is not there. The message names it and what is there. */
export class UnknownReference extends Error {
  constructor(
    readonly reference: string,
    known: string[],
  ) {
    super(
      `\${${reference}} is not known here${known.length > 0 ? `; known: ${known.slice(0, 8).join(', ')}` : ''}`,
    )
  }
}

/** Puts values in place of references, once (what they stand for is not looked at again).
 * @throws {UnknownReference} */
export function fill(written: string, scope: Scope): string {
  return written.replace(REFERENCE, (_, reference: string) => {
    const name = reference.trim()
    const dot = name.indexOf('.')
    const table =
      dot < 0
        ? scope.names
        : (
            { row: scope.row, env: scope.env, run: scope.run, secret: scope.secret ?? {} } as Record<
              string,
              Texts
            >
          )[name.slice(0, dot)]
    const key = dot < 0 ? name : name.slice(dot + 1)
    if (table && Object.hasOwn(table, key)) return table[key]!
    const made = scope.generate?.(name)
    if (made === undefined) throw new UnknownReference(name, Object.keys(table ?? scope.names))
    return made
  })
}

/** Every reference in a JSON-like value, without `${` and `}`, each once, in the order of the text. */
export function referencesIn(value: unknown): string[] {
  const text = JSON.stringify(value) ?? ''
  return [
    ...new Set(
      [...text.matchAll(REFERENCE)].map(([, reference]) => reference!.trim().replaceAll('\\"', '"')),
    ),
  ]
}

/** Fills every text in a JSON-like value, leaving the rest as it is. */
export function fillDeep<T>(value: T, scope: Scope): T {
  if (typeof value === 'string') return fill(value, scope) as T
  if (Array.isArray(value)) return value.map((item) => fillDeep(item, scope)) as T
  if (value !== null && typeof value === 'object') {
    return Object.fromEntries(Object.entries(value).map(([key, item]) => [key, fillDeep(item, scope)])) as T
  }
  return value
}

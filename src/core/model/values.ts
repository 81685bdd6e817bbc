/** `${name}` in written values: what stands for what, and what is missing. */
import { isCalculation, namesInCalculation, type Tables } from './calculation-names'

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
  /** Works out what is more than a name; without it such a reference is not known. */
  calculate?: (written: string, tables: Tables) => string
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
      `\${${reference}} is not known ` +
        `here${known.length > 0 ? `; known: ${known.slice(0, 8).join(', ')}` : ''}`,
    )
  }
}

/** Puts values in place of references, once (what they stand for is not looked at again).
 * @throws {UnknownReference} {CalculationFault} */
export function fill(written: string, scope: Scope): string {
  return written.replace(REFERENCE, (_, reference: string) => valueOf(reference.trim(), scope))
}

function valueOf(name: string, scope: Scope): string {
  const { names, row, env, run, secret = {} } = scope
  const dot = name.indexOf('.')
  const tables: Record<string, Texts> = { row, env, run, secret }
  const table = dot < 0 ? names : tables[name.slice(0, dot)]
  const key = dot < 0 ? name : name.slice(dot + 1)
  if (table && Object.hasOwn(table, key)) return table[key]!
  if (scope.calculate && isCalculation(name)) {
    for (const part of namesInCalculation(name)) if (!part.startsWith('secret.')) valueOf(part, scope)
    return scope.calculate(name, { names, row, env, run })
  }
  const made = scope.generate?.(name)
  if (made === undefined) throw new UnknownReference(name, Object.keys(table ?? names))
  return made
}

/** What stands in `${…}` in a JSON-like value, each once, in the order of the text: names and
 * calculations. */
export function writtenReferences(value: unknown): string[] {
  const text = JSON.stringify(value) ?? ''
  return [
    ...new Set(
      [...text.matchAll(REFERENCE)].map(([, reference]) => reference!.trim().replaceAll('\\"', '"')),
    ),
  ]
}

/** Every name that a JSON-like value refers to, each once, in the order of the text; those in a calculation
 * one by one. */
export const referencesIn = (value: unknown): string[] => [
  ...new Set(
    writtenReferences(value).flatMap((reference) =>
      isCalculation(reference) ? namesInCalculation(reference) : [reference],
    ),
  ),
]

/** Fills every text in a JSON-like value, leaving the rest as it is. */
export function fillDeep<T>(value: T, scope: Scope): T {
  if (typeof value === 'string') return fill(value, scope) as T
  if (Array.isArray(value)) return value.map((item) => fillDeep(item, scope)) as T
  if (value !== null && typeof value === 'object') {
    return Object.fromEntries(Object.entries(value).map(([key, item]) => [key, fillDeep(item, scope)])) as T
  }
  return value
}

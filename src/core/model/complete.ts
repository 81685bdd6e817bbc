/** What may be written at a place of a file: keys by the schemas, and names of what there is. */
import { FILE_SCHEMAS } from './schemas'
import { GIVEN_NAMES } from './values'
import { VERB_NAMES } from './verbs'

export type Offers = {
  routines: readonly { key: string; title: string }[]
  tables: readonly string[]
  cases?: readonly string[]
  suites?: readonly string[]
  applications: readonly string[]
  names: readonly string[]
  columns: readonly string[]
  generators: readonly string[]
}
/** `from`: where the word begins that an option takes the place of, counted from the start of the text. */
export type Completion = { from: number; options: { label: string; detail?: string }[] }

type Schema = {
  properties?: Record<string, Schema>
  $ref?: string
  items?: Schema
  description?: string
  enum?: string[]
  anyOf?: Schema[]
}
type Kind = keyof typeof FILE_SCHEMAS

/** @param before the text up to the cursor */
export function completionsAt(kind: Kind, before: string, offers: Offers): Completion | undefined {
  const line = before.slice(before.lastIndexOf('\n') + 1)
  const reference = /\$\{([\w.]*)$/.exec(line)
  if (reference)
    return found(
      before,
      reference[1]!,
      [
        ...offers.names,
        ...offers.columns.map((column) => `row.${column}`),
        ...GIVEN_NAMES,
        'secret.',
        ...offers.generators,
      ].map((label) => ({ label })),
    )
  const named = /(?:^|[\s{,-])(use|entry|data|case|suite|open|url):\s*["']?([\w.:/-]*)$/.exec(line)
  if (named && !(kind !== 'suite' && (named[1] === 'case' || named[1] === 'suite')))
    return found(before, named[2]!, namesFor(named[1]!, offers))
  const word = /[\w-]*$/.exec(line)![0]
  const keys = openKeys(before.slice(0, before.length - word.length))
  if (
    /:\s*[\w-]+$/.test(line.slice(0, line.length - word.length)) ||
    /:\s*$/.test(line.slice(0, line.length - word.length))
  ) {
    const schema = schemaAt(kind, [
      ...keys,
      /([\w-]+):\s*$/.exec(line.slice(0, line.length - word.length))?.[1] ?? '',
    ])
    return schema?.enum
      ? found(
          before,
          word,
          schema.enum.map((label) => ({ label })),
        )
      : undefined
  }
  const inFlow = keys.length > 0
  if (!inFlow && /^\s*-\s*$/.test(line.slice(0, line.length - word.length)))
    return found(
      before,
      word,
      kind === 'suite'
        ? keysOf(FILE_SCHEMAS.suite.definitions.entry as Schema)
        : VERB_NAMES.map((label) => ({ label: `${label}: `, detail: 'a step' })),
    )
  if (!inFlow && word.length === line.length) return found(before, word, keysOf(FILE_SCHEMAS[kind] as Schema))
  if (!inFlow && /^\s+$/.test(line.slice(0, line.length - word.length)))
    return found(
      before,
      word,
      keysOf(
        kind === 'suite'
          ? (FILE_SCHEMAS.suite.definitions.entry as Schema)
          : (FILE_SCHEMAS.case.definitions.step as Schema),
      ).filter(({ label }) => !VERB_NAMES.some((verb) => verb === label.slice(0, -2))),
    )
  const schema = inFlow ? schemaAt(kind, keys) : undefined
  return schema ? found(before, word, keysOf(schema)) : undefined
}

function namesFor(
  key: string,
  { routines, tables, cases = [], suites = [], applications }: Offers,
): Completion['options'] {
  if (key === 'use' || key === 'entry')
    return routines.map((routine) => ({ label: routine.key, detail: routine.title }))
  if (key === 'open' || key === 'url')
    return applications.map((application) => ({ label: `${application}:/` }))
  if (key === 'data') return tables.map((label) => ({ label }))
  return (key === 'case' ? cases : suites).map((label) => ({ label }))
}

const found = (before: string, word: string, options: Completion['options']): Completion | undefined => {
  const fitting = options.filter(({ label }) => label.toLowerCase().includes(word.toLowerCase()))
  return fitting.length > 0 ? { from: before.length - word.length, options: fitting } : undefined
}

/** Keys of the braces that are open at the end of a text, outermost first: `- click: { on: { ` gives click,
 * on. */
function openKeys(text: string): string[] {
  const line = text.slice(text.lastIndexOf('\n') + 1)
  const keys: string[] = []
  for (const [, key, sign] of line.matchAll(/(?:([\w-]+):\s*)?([{}])/g)) {
    if (sign === '{') keys.push(key ?? '')
    else keys.pop()
  }
  return keys
}

const resolve = (kind: Kind, schema: Schema | undefined): Schema | undefined =>
  schema?.$ref
    ? (FILE_SCHEMAS[kind] as { definitions?: Record<string, Schema> }).definitions?.[
        schema.$ref.split('/').at(-1)!
      ]
    : schema

/** Where what stands in braces may be told: the inner forms of a file first, then the file itself. */
function rootsOf(kind: Kind): Schema[] {
  const file = FILE_SCHEMAS[kind] as Schema
  switch (kind) {
    case 'suite':
      return [FILE_SCHEMAS.suite.definitions.entry as Schema, file]
    case 'rotation':
      return [file]
    case 'policy':
      return [
        FILE_SCHEMAS.policy.definitions.rule as Schema,
        FILE_SCHEMAS.policy.definitions.step as Schema,
        file,
      ]
    default:
      return [FILE_SCHEMAS.case.definitions.step as Schema, file]
  }
}

function schemaAt(kind: Kind, keys: string[]): Schema | undefined {
  for (const root of rootsOf(kind)) {
    const schema = keys
      .filter((key) => key !== '')
      .reduce<Schema | undefined>((at, key) => resolve(kind, resolve(kind, at)?.properties?.[key]), root)
    if (schema && (schema.properties || schema.enum)) return schema
  }
  return undefined
}

const keysOf = (schema: Schema): Completion['options'] =>
  Object.entries(schema.properties ?? {}).map(([key, { description }]) => ({
    label: `${key}: `,
    ...(description && { detail: description }),
  }))

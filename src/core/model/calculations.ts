/** Calculations in `${…}`: the Common Expression Language (CEL, cel.dev), with texts as values. Nothing in
 * them runs code or repeats itself, so what one takes is bounded by its own length and that of its texts. */
import { Environment } from '@marcbachmann/cel-js'
import {
  CalculationFault,
  isCalculation,
  namesInCalculation,
  withoutTexts,
  type Tables,
} from './calculation-names'
import { writtenReferences } from './values'

const LIMITS = {
  maxAstNodes: 300,
  maxDepth: 40,
  maxListElements: 100,
  maxMapEntries: 20,
  maxCallArguments: 8,
}
/** Of a value that goes in, and of what comes out. */
const TEXT_CHARS_MOST = 10_000
/** Digits that a floating-point number has for certain: 0.1 + 0.2 is 0.3. */
const DIGITS = 15
const DECIMALS_MOST = 12
const COMPILED_KEPT = 200
/** They repeat what stands in them, or run an expression in a time that nobody bounds. */
const REFUSED = /\.\s*(map|filter|all|exists|exists_one|matches)\s*\(/

/** A number as people write it: digits, and a point before the decimals. */
const NUMBER = /^[+-]?(\d+(\.\d*)?|\.\d+)$/

function numberOf(text: string): number {
  const written = text.trim()
  if (!NUMBER.test(written) || written.length > 40) throw new CalculationFault(`“${text}” is no number`)
  return Number(written)
}

function decimalsOf(wanted: bigint): number {
  if (wanted < 0n || wanted > DECIMALS_MOST)
    throw new CalculationFault(`there are 0 to ${DECIMALS_MOST} decimals, not ${wanted}`)
  return Number(wanted)
}

/** Half away from zero, in the digits that are certain: 1.005 to two decimals is 1.01. */
function rounded(value: number, decimals: number): number {
  const shifted = Number(`${Number(value.toPrecision(DIGITS))}e${decimals}`)
  return Number(`${Math.sign(shifted) * Math.round(Math.abs(shifted))}e-${decimals}`)
}

function whole(value: number): bigint {
  if (!Number.isSafeInteger(value)) throw new CalculationFault('the number is too large')
  return BigInt(value)
}

function replaced(text: string, part: string, by: string): string {
  const parts = text.split(part)
  if (part === '' || text.length + parts.length * by.length > TEXT_CHARS_MOST)
    throw new CalculationFault(part === '' ? 'replace needs something to look for' : 'the text gets too long')
  return parts.join(by)
}

/** What CEL has for two numbers of one kind, for a whole number beside one with decimals too. */
function withMixedNumbers(environment: Environment): Environment {
  const operators: Record<string, (a: number, b: number) => number> = {
    '+': (a, b) => a + b,
    '-': (a, b) => a - b,
    '*': (a, b) => a * b,
    '/': (a, b) => a / b,
  }
  for (const [sign, work] of Object.entries(operators))
    for (const [left, right] of [
      ['double', 'int'],
      ['int', 'double'],
    ])
      environment.registerOperator(
        `${left} ${sign} ${right}: double`,
        (a: number | bigint, b: number | bigint) => work(Number(a), Number(b)),
      )
  return environment
}

const LANGUAGE = withMixedNumbers(new Environment({ limits: LIMITS }))
  .registerFunction('number(string): double', numberOf)
  .registerFunction('round(double): int', (value: number) => whole(rounded(value, 0)))
  .registerFunction('round(double, int): double', (value: number, decimals: bigint) =>
    rounded(value, decimalsOf(decimals)),
  )
  .registerFunction('fixed(double, int): string', (value: number, decimals: bigint) =>
    rounded(value, decimalsOf(decimals)).toFixed(decimalsOf(decimals)),
  )
  .registerFunction('floor(double): int', (value: number) => whole(Math.floor(value)))
  .registerFunction('ceil(double): int', (value: number) => whole(Math.ceil(value)))
  .registerFunction('string.replace(string, string): string', replaced)

type Compiled = { run(tables: Tables): unknown; problem?: undefined } | { problem: string }
/** The newest stands last. */
const compiled = new Map<string, Compiled>()

/** @returns what is wrong with a calculation, as a part of a sentence; `undefined` when it can be used */
export const calculationProblem = (written: string): string | undefined => compiledOf(written).problem

/** What is wrong with the calculations in a document, each with its place.
 * @param path of the value within the document */
export function calculationFaults(
  value: unknown,
  path: readonly (string | number)[] = [],
): { path: (string | number)[]; message: string }[] {
  if (typeof value === 'string')
    return writtenReferences(value).flatMap((reference) => {
      const problem = isCalculation(reference) ? calculationProblem(reference) : undefined
      return problem === undefined
        ? []
        : [{ path: [...path], message: `“${reference}” cannot be worked out: ${problem}` }]
    })
  if (value === null || typeof value !== 'object') return []
  const entries = Array.isArray(value) ? [...value.entries()] : Object.entries(value)
  return entries.flatMap(([key, each]) => calculationFaults(each, [...path, key]))
}

/** @returns the result as a text
 * @throws {CalculationFault} as when something is no number, or a number is divided by 0 */
export function calculate(written: string, tables: Tables): string {
  const found = compiledOf(written)
  if (found.problem !== undefined) throw new CalculationFault(found.problem)
  for (const table of Object.values(tables))
    for (const [name, value] of Object.entries(table))
      if (value.length > TEXT_CHARS_MOST && namesInCalculation(written).some((one) => one.endsWith(name)))
        throw new CalculationFault(`“${name}” is longer than ${TEXT_CHARS_MOST} characters`)
  try {
    return textOf(found.run(tables))
  } catch (error) {
    throw error instanceof CalculationFault ? error : new CalculationFault(explain(error))
  }
}

function textOf(value: unknown): string {
  if (typeof value === 'string' && value.length <= TEXT_CHARS_MOST) return value
  if (typeof value === 'string') throw new CalculationFault('the text gets too long')
  if (typeof value === 'boolean' || typeof value === 'bigint') return String(value)
  if (typeof value === 'number' && Number.isFinite(value)) return String(Number(value.toPrecision(DIGITS)))
  if (typeof value === 'number')
    throw new CalculationFault('the result is no number: is something divided by 0?')
  throw new CalculationFault('what comes of it is neither a text nor a number')
}

function compiledOf(written: string): Compiled {
  const known = compiled.get(written)
  if (known) return known
  const made = compile(written)
  compiled.set(written, made)
  if (compiled.size > COMPILED_KEPT) compiled.delete(compiled.keys().next().value!)
  return made
}

/** Values are texts, so a mistake in the kinds of values is found before the calculation is ever used. */
function compile(written: string): Compiled {
  const refused = REFUSED.exec(withoutTexts(written))
  if (refused) return { problem: `“${refused[1]}” cannot be used here` }
  const names = namesInCalculation(written)
  if (names.some((name) => name.startsWith('secret.')))
    return { problem: 'a secret cannot be calculated with: what comes of it would not be hidden' }
  try {
    const environment = LANGUAGE.clone()
    for (const table of ['row', 'env', 'run']) environment.registerVariable(table, 'map<string, string>')
    for (const name of names) if (!name.includes('.')) environment.registerVariable(name, 'string')
    const parsed = environment.parse(written)
    const { valid, error } = parsed.check()
    if (!valid) return { problem: explain(error) }
    return { run: ({ names: own, row, env, run }) => parsed({ ...own, row, env, run }) as unknown }
  } catch (error) {
    return { problem: explain(error) }
  }
}

const KINDS: Record<string, string> = {
  string: 'a text',
  int: 'a whole number',
  double: 'a number',
  bool: 'yes or no',
}
const kind = (name: string) => KINDS[name] ?? name

/** What the library says, in words of ours. */
const REASONS: readonly [what: RegExp, why: (found: string[]) => string][] = [
  [
    /no such overload: (\w+) (\S+) (\w+)/,
    ([, left, sign, right]) =>
      `“${sign}” does not go between ${kind(left!)} and ${kind(right!)}; values are texts: write ` +
      'number(…) around what is a number',
  ],
  [
    /no matching overload for '([\w.]+?)\(/,
    ([, name]) => `there is no “${name!.split('.').at(-1)}” for these values`,
  ],
  [/(?:division|modulo) by zero/, () => 'a number is divided by 0'],
  [/(int|double|bool)\(\).*error/, ([, name]) => `a value cannot be made ${kind(name!)}`],
  [/Unexpected token: EOF/, () => 'it ends too early'],
  [/Unexpected (?:token|character):? (.+)/, ([, token]) => `“${token!.trim()}” is not expected there`],
  [/overflow/, () => 'the number is too large'],
  [/out of range/, () => 'it asks for characters beyond the end of the text'],
  [/No such key: (.+)/, ([, key]) => `there is no “${key}”`],
  [/Exceeded max(\w+)/, () => 'it is too long'],
]

function explain(error: unknown): string {
  const [message = ''] = (error as Error).message.split('\n')
  for (const [what, why] of REASONS) {
    const found = what.exec(message)
    if (found) return why(found)
  }
  return 'it cannot be read as a calculation'
}

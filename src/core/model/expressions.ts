/** Regular expressions that people write: RE2's syntax (github.com/google/re2/wiki/Syntax), which is matched
 * in time linear in the length of the text, so that no expression and no page can hold a process up. */
import { RE2JS } from 're2js'

/** Matching costs text length x program size; larger programs are lists, not expressions. */
const PROGRAM_MOST = 1000
/** Repeats are written out when an expression is compiled: so they are counted before. */
const REPEATS_MOST = 2000
/** Only so much of a text is searched. */
export const EXPRESSION_TEXT_CHARS = 100_000
const COMPILED_KEPT = 200

type Compiled = { expression: RE2JS; problem?: undefined } | { expression?: undefined; problem: string }

/** The newest stands last. */
const compiled = new Map<string, Compiled>()

/** @returns what is wrong with an expression, as a part of a sentence; `undefined` when it can be used */
export const expressionProblem = (pattern: string): string | undefined => compiledOf(pattern).problem

/** Whether an expression is found anywhere in the first 100,000 characters of a text. One that cannot be used
 * is never found: it is refused where it is written. */
export function findsExpression(pattern: string, text: string): boolean {
  return compiledOf(pattern).expression?.test(text.slice(0, EXPRESSION_TEXT_CHARS)) ?? false
}

/** What an expression finds first in the first 100,000 characters of a text: its first group, or all of it
 * where it has none. @returns `undefined` where it finds nothing */
export function pickedBy(pattern: string, text: string): string | undefined {
  const matcher = compiledOf(pattern).expression?.matcher(text.slice(0, EXPRESSION_TEXT_CHARS))
  if (!matcher?.find()) return undefined
  return matcher.group(matcher.groupCount() > 0 ? 1 : 0) ?? undefined
}

function compiledOf(pattern: string): Compiled {
  const known = compiled.get(pattern)
  if (known) return known
  const made = compile(pattern)
  compiled.set(pattern, made)
  if (compiled.size > COMPILED_KEPT) compiled.delete(compiled.keys().next().value!)
  return made
}

function compile(pattern: string): Compiled {
  if (repeatsIn(pattern) > REPEATS_MOST)
    return { problem: `it repeats more than ${REPEATS_MOST} times in all` }
  try {
    const expression = RE2JS.compile(unescaped(pattern))
    if (expression.programSize() > PROGRAM_MOST)
      return { problem: 'it is too large; fewer or smaller repeats make it smaller' }
    return { expression }
  } catch (error) {
    return { problem: explain((error as Error).message) }
  }
}

/** How JavaScript writes a character by its number, as RE2 writes it. */
const unescaped = (pattern: string) =>
  pattern.replace(
    /\\(?:u\{([0-9a-fA-F]{1,6})\}|u([0-9a-fA-F]{4})|([\s\S]))/g,
    (whole, braces?: string, four?: string) => {
      const digits = braces ?? four
      return digits === undefined ? whole : `\\x{${digits}}`
    },
  )

function repeatsIn(pattern: string): number {
  let sum = 0
  for (const [, least, most] of pattern.matchAll(/\{(\d+)(?:,(\d*))?\}/g)) sum += Number(most || least)
  return sum
}

const WORDS: readonly [RegExp, string][] = [
  [
    /(?:Perl syntax|named capture): `(\(\?<?[=!])/,
    'it looks ahead or behind ($1…), which is not possible here; name what is there instead',
  ],
  [/escape sequence: `(\\[1-9])/, 'it refers back to a group ($1), which is not possible here'],
  [/escape sequence: `(.*)`/, 'it does not know $1'],
  [/missing closing \)/, 'a bracket is opened and not closed'],
  [/unexpected \)/, 'a bracket is closed and not opened'],
  [/missing closing \]/, 'a set of characters is opened with [ and not closed'],
  [/missing argument to repetition operator: `(.*)`/, 'there is nothing before $1 to repeat'],
  [/invalid repeat count: `(.*)`/, 'it repeats more than 1000 times ($1)'],
]

/** A refusal of RE2, in our words where we have some. */
function explain(message: string): string {
  for (const [pattern, words] of WORDS) {
    const found = pattern.exec(message)
    if (found) return words.replace('$1', found[1] ?? '')
  }
  return message.replace(/^error parsing regexp: /, '')
}

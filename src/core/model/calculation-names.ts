/** What a calculation in `${…}` refers to. Apart from the language itself, which pages of the interface need
 * not carry. */

/** The values a calculation may use. */
export type Tables = Record<'names' | 'row' | 'env' | 'run', Record<string, string>>

/** A calculation that cannot be carried out, and why: a part of a sentence. */
export class CalculationFault extends Error {}

const GENERATOR = /^(fake\.|date\()/
/** A call, a text, a choice, a comparison, or a sign of arithmetic with room around it or beside a digit. */
const SIGNS =
  /[A-Za-z_]\(|^[(![]|["'?<>]|==|!=|&&|\|\||\s[+*/%-]\s|[\w)]\s*[+*/%-]\s*\d|\d\s*[+*/%-]\s*[A-Za-z_(]|^(?!row\.)[\w.]+\+/

/** Whether what stands in `${…}` is more than a name. */
export const isCalculation = (reference: string): boolean =>
  !GENERATOR.test(reference) && SIGNS.test(reference)

const TEXTS = /"(?:[^"\\]|\\.)*"|'(?:[^'\\]|\\.)*'/g
/** A calculation with empty texts in place of those in it. */
export const withoutTexts = (written: string): string => written.replace(TEXTS, '""')

const BRACKETED = /\b(row|env|run|secret)\s*\[\s*("(?:[^"\\]|\\.)*"|'(?:[^'\\]|\\.)*')\s*\]/g
const CHAIN = /(?<![\w.])[A-Za-z_]\w*(?:\s*\.\s*[A-Za-z_]\w*)*(\s*\()?/g
const WORDS = new Set(['true', 'false', 'null', 'in'])
const TABLES = new Set(['row', 'env', 'run', 'secret'])

/** The names of values in a calculation, each once, as a reference of its own would write them: `fare`,
 * `row.port`. */
export function namesInCalculation(written: string): string[] {
  const names = new Set<string>()
  const rest = written.replace(BRACKETED, (_, table: string, key: string) => {
    names.add(`${table}.${key.slice(1, -1)}`)
    return '""'
  })
  for (const [found, call] of withoutTexts(rest).matchAll(CHAIN)) {
    const parts = found
      .replace(/\s*\($/, '')
      .split('.')
      .map((part) => part.trim())
    if (call !== undefined) parts.pop() // the name of what is called
    const [root, key] = parts
    if (root === undefined || WORDS.has(root)) continue
    names.add(TABLES.has(root) && key !== undefined ? `${root}.${key}` : root)
  }
  return [...names]
}

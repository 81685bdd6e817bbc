/** YAML of people and repositories, read within bounds: in time that grows with its length, whatever it
 * holds. */
import { isAlias, isMap, isScalar, isSeq, parseDocument, type Document, type LineCounter } from 'yaml'
import { NESTING_MOST } from './storable'

/** Values and keys of one file. */
const VALUES_MOST = 100_000

/** What may be open at once before the text is given to the library: that calls itself for each level, and
 * beyond some thousands the engine ends the whole process, not only the thread. */
const OPEN_MOST = NESTING_MOST * 2

const TOO_DEEP = `it is nested deeper than ${NESTING_MOST}`
const TOO_MANY = `it has more than ${VALUES_MOST.toLocaleString('en')} values`

/** @returns the document, or in words why it is not even read: that would cost the stack, or many seconds */
export function readYaml(text: string, lineCounter: LineCounter): Document | string {
  if (opensAtOnce(text) > OPEN_MOST) return TOO_DEEP
  if (writtenLines(text) > VALUES_MOST) return TOO_MANY
  try {
    // The library compares each key with every other: two that are the same are found by `shapeFaults`.
    return parseDocument(text, { lineCounter, prettyErrors: false, uniqueKeys: false })
  } catch (error) {
    if (error instanceof RangeError) return TOO_DEEP
    throw error
  }
}

const writtenLines = (text: string): number => text.split('\n').filter((line) => line.trim() !== '').length

/** The deepest nesting a text may have, looked at from outside: lines that stand further in than those above,
 * dashes on one line, and brackets where a value may begin. */
function opensAtOnce(text: string): number {
  const indents: number[] = []
  let brackets = 0
  let most = 0
  for (const line of text.split('\n')) {
    const indent = /^[ \t]*/.exec(line)![0].length
    while (indents.length > 0 && indents.at(-1)! >= indent) indents.pop()
    indents.push(indent)
    let dashes = 0
    for (let i = indent; i < line.length; i++) {
      const character = line[i]!
      if ((character === '[' || character === '{') && mayBegin(line, i)) brackets++
      else if (character === ']' || character === '}') brackets = Math.max(0, brackets - 1)
      else if ((character === '-' || character === '?') && /[ \t]/.test(line[i + 1] ?? '')) dashes++
      most = Math.max(most, indents.length + dashes + brackets)
    }
  }
  return most
}

/** Whether a bracket here opens a list or a map: it stands first, after a sign, or after a tag or an
 * anchor. */
function mayBegin(line: string, at: number): boolean {
  let before = at - 1
  while (before >= 0 && (line[before] === ' ' || line[before] === '\t')) before--
  if (before < 0 || '[{,:-?'.includes(line[before]!)) return true
  let from = before
  while (from > 0 && !' \t[{,'.includes(line[from - 1]!)) from--
  return line[from] === '!' || line[from] === '&'
}

export type ShapeFault = { message: string; offset: number }

/** Keys that are there twice, more values than a file may have, and nesting: what the schema is not asked
 * about. */
export function shapeFaults(doc: Document): ShapeFault[] {
  const faults: ShapeFault[] = []
  let left = VALUES_MOST
  let level: unknown[] = [doc.contents]
  for (let depth = 0; level.length > 0; depth++) {
    left -= level.length
    if (left < 0) return [{ message: TOO_MANY, offset: 0 }]
    if (depth > NESTING_MOST) return [{ message: TOO_DEEP, offset: offsetOf(level[0]) }]
    const next: unknown[] = []
    for (const node of level) {
      if (isSeq(node)) for (const item of node.items) next.push(item)
      if (!isMap(node)) continue
      const seen = new Set<unknown>()
      for (const { key, value } of node.items) {
        const name = isScalar(key) ? key.value : key
        if (seen.has(name)) faults.push({ message: 'Map keys must be unique', offset: offsetOf(key) })
        seen.add(name)
        next.push(value)
        if (!isScalar(key) && !isAlias(key)) next.push(key)
      }
    }
    level = next
  }
  return faults.slice(0, 100)
}

const offsetOf = (node: unknown): number =>
  (node as { range?: [number, number, number] | null } | null)?.range?.[0] ?? 0

/** Regular expressions that people write, tried on texts that pages write: bounded, so that no pair of them holds a process up. */
import { createContext, Script } from 'node:vm'

/** Longer than any sensible expression takes on any message. */
const LIMIT_MS = 50
/** As many at once: so few that a slow one among them is soon found, so many that starting the watch costs little. */
const AT_ONCE = 200

const one = new Script('new RegExp(pattern, "u").test(text)')
const many = new Script('{ const found = new RegExp(pattern, "u"); texts.map((text) => found.test(text)) }')
const room = createContext({ pattern: '', text: '', texts: [] as string[] }, { codeGeneration: { strings: false, wasm: false } }) as { pattern: string; text: string; texts: string[] }

/** Whether the expression (flag u) is found anywhere in the text. One that takes longer than 50 ms, or that is none, is not. */
export function boundedMatch(pattern: string, text: string): boolean {
  Object.assign(room, { pattern, text })
  try {
    return one.runInContext(room, { timeout: LIMIT_MS }) === true
  } catch {
    return false // out of time, or no expression: neither is a match
  }
}

/** The same for many texts. */
export function boundedMatches(pattern: string, texts: readonly string[]): boolean[] {
  const answers: boolean[] = []
  for (let i = 0; i < texts.length; i += AT_ONCE) {
    const part = texts.slice(i, i + AT_ONCE)
    Object.assign(room, { pattern, texts: part })
    try {
      answers.push(...(many.runInContext(room, { timeout: LIMIT_MS }) as boolean[]))
    } catch {
      answers.push(...part.map((text) => boundedMatch(pattern, text)))
    }
  }
  return answers
}

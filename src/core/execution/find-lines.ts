/** Finds lines of an outline by their words, and narrows it to those of a kind. */
import type { OutlineLine } from './outline'

/** What an outline is narrowed to, beside the verbs of its steps (`verb:click`). */
export const LINE_KINDS = ['checks', 'warnings', 'failed-requests'] as const
type Kind = (typeof LINE_KINDS)[number]
const VERB = 'verb:'

const IS_OF: Record<Kind, (line: OutlineLine) => boolean> = {
  checks: ({ words }) => words.verb === 'check',
  warnings: ({ console }) => console.some(({ level }) => level === 'error' || level === 'warning'),
  'failed-requests': ({ requests }) => requests.some(({ status }) => status === 0 || status >= 400),
}
const isKind = (only: string): only is Kind => LINE_KINDS.some((kind) => kind === only)

/** @param only a kind, or a verb behind "verb:"; anything else narrows nothing */
export function linesOfKind(lines: readonly OutlineLine[], only: string | null): OutlineLine[] {
  if (only === null) return [...lines]
  if (only.startsWith(VERB)) return lines.filter(({ words }) => words.verb === only.slice(VERB.length))
  return isKind(only) ? lines.filter(IS_OF[only]) : [...lines]
}

/** Verbs of an outline, as `linesOfKind` takes them. */
export const verbsIn = (lines: readonly OutlineLine[]): string[] =>
  [...new Set(lines.map(({ words }) => words.verb))]
    .filter((verb) => verb !== '')
    .sort()
    .map((verb) => `${VERB}${verb}`)

/** Lines that have a text in their words, values, failure, notes, console or requests, whatever the case of
 * its letters. @returns none for no text */
export function linesWith(lines: readonly OutlineLine[], text: string): OutlineLine[] {
  const wanted = text.trim().toLowerCase()
  return wanted === ''
    ? []
    : lines.filter((line) => textsOf(line).some((one) => one.toLowerCase().includes(wanted)))
}

function textsOf({ words, failure, note, because, values, console, requests }: OutlineLine): string[] {
  return [
    [words.verb, words.object, words.detail].filter(Boolean).join(' '),
    failure?.message,
    failure?.expected,
    failure?.actual,
    note,
    because,
    ...Object.entries(values).map(([name, value]) => `${name} ${value}`),
    ...console.map((said) => said.text),
    ...requests.map(({ method, url, status }) => `${method} ${url} ${status}`),
  ].filter((one) => one !== undefined)
}

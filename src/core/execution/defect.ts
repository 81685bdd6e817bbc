/** A defect drafted from an attempt: what a developer needs, in words a person would write. */
import { describeDuration, sentenceText } from '../model'
import type { OutlineLine } from './outline'

export type DefectDraft = { title: string; steps: string; expected: string; actual: string }
export type DraftSource = {
  caseTitle: string
  applications: string[]
  environment: string
  build: string
  lines: readonly OutlineLine[]
}

/** Longest title we draft: what a list shows in one line. */
const TITLE_CHARS = 120

/** Steps that only look, or let time pass: who does it by hand does nothing for them. */
const ONLY_LOOKS = new Set(['check', 'wait'])

/** Drafts from the first failing line. Steps are those of the outline that were carried out, without undo,
 * innermost only; of those that only look, the one that failed. */
export function draftDefect({ caseTitle, lines }: DraftSource): DefectDraft {
  const failing = lines.find((line) => line.failing && !line.path.startsWith('undo'))
  const done = lines.filter(
    (line) =>
      line.startMs !== undefined &&
      !line.path.startsWith('undo') &&
      !hasChildren(line, lines) &&
      (line === failing || !ONLY_LOOKS.has(line.words.verb)),
  )
  const upTo = failing ? done.slice(0, done.indexOf(failing) + 1) : done
  const steps = upTo.map((line, i) => `${i + 1}. ${capital(sentenceText(line.words))}`).join('\n')
  if (!failing?.failure)
    return { title: clipTitle(`${caseTitle}: not as expected`), steps, expected: '', actual: '' }
  const { failure, words } = failing
  if (failure.kind === 'check') {
    return {
      title: clipTitle(
        `${caseTitle}: ${words.object} is ${quote(failure.actual ?? '')}, expected ${failure.expected ?? ''}`,
      ),
      steps,
      expected: `${capital(words.object)}: ${failure.expected ?? ''}`,
      actual: `${capital(words.object)}: ${failure.actual ?? failure.message}`,
    }
  }
  // "it is covered" reads well under its step, not in a list of titles.
  const message = failure.message.replace(/^it (?=is|was)/, `${words.object} `)
  const step = sentenceText({ ...words, detail: words.verb === 'type' ? '' : words.detail })
  return {
    title: clipTitle(`${caseTitle}: ${message}`),
    steps,
    expected: failure.expected ?? `“${step}” can be done`,
    actual: [capital(message), failing.ms !== undefined && `(after ${describeDuration(failing.ms)})`]
      .filter(Boolean)
      .join(' '),
  }
}

const hasChildren = (line: OutlineLine, lines: readonly OutlineLine[]) =>
  lines.some((other) => other.path.startsWith(`${line.path}.`))
const capital = (text: string) => text.charAt(0).toUpperCase() + text.slice(1)
const quote = (text: string) => (text === '' ? 'empty' : text)
/** As long as a list shows in one line. */
export const clipTitle = (text: string) =>
  text.length <= TITLE_CHARS ? text : `${text.slice(0, TITLE_CHARS - 1).trimEnd()}…`

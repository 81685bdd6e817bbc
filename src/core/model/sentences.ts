/** Pieces of the sentences in which a person reads steps (`describeStep` of verbs). The same words stand in
 * the suite, in the log and in a defect. */
import { TARGET_PLACES, type Matcher, type Target } from './types'

/** `verb` is set off in the interface, `object` is what it acts on, `detail` a value in the fixed-width
 * face. */
export type Sentence = { verb: string; object: string; detail: string }

export function describeTarget(target: Target): string {
  const places = TARGET_PLACES.flatMap((place) => {
    const other = target[place]
    return other ? [`${PLACE_WORDS[place]} ${describeTarget(other)}`] : []
  })
  return [describeWay(target), numberWords(target.number), ...places].filter(Boolean).join(' ')
}
const PLACE_WORDS = { within: 'in', beside: 'beside', under: 'under' }

function numberWords(number: number | undefined): string {
  if (number === undefined) return ''
  if (number === -1) return '(the last)'
  return number > 0 ? `(no. ${number})` : `(no. ${-number} from the end)`
}

function describeWay(target: Target): string {
  if (target.role && target.name) return target.name
  if (target.label) return target.label
  if (target.text) return `“${target.text}”`
  if (target.testId) return target.testId.replaceAll('-', ' ')
  if (target.placeholder) return target.placeholder
  if (target.role) return target.role
  if (target.css) return target.css
  if (target.words) return `the writing “${target.words}”`
  return target.picture ? `the picture “${target.picture}”` : ''
}

export function describeMatcher(matcher: Matcher): string {
  const words: string[] = []
  for (const [name, value] of Object.entries(matcher)) {
    if (name === 'near')
      words.push(`near ${(value as { value: string }).value}, within ${(value as { within: string }).within}`)
    else if (name === 'between') words.push(`between ${(value as unknown[]).join(' and ')}`)
    else if (name === 'matches') words.push(`matches /${String(value)}/`)
    else if (name === 'empty') words.push(value ? 'is empty' : 'is not empty')
    else words.push(`${MATCHER_WORDS[name] ?? name} ${[value].flat().join(', ')}`)
  }
  return words.join(' and ')
}
const MATCHER_WORDS: Record<string, string> = {
  startsWith: 'starts with',
  atLeast: 'at least',
  atMost: 'at most',
  oneOf: 'one of',
  not: 'is not',
}

/** The sentence as one line of text, for titles, logs and defects. */
export function sentenceText(sentence: Sentence): string {
  return [sentence.verb, sentence.object, sentence.detail].filter(Boolean).join(' ')
}

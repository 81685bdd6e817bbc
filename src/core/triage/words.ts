/** Words of a text, as far as two texts about the same thing have them in common. */

/** English words that say nothing of what a text is about. */
const EMPTY = new Set(
  (
    'a an and are as at be been but by can could did do does for from had has have he her his i if ' +
    'in into is ' +
    ('it its just may me my no not of on or our she should so some than that the their them then ' +
      'there these ') +
    ('they this to too up us was we were what when where which while who will with would you your ' +
      'after again ') +
    ('all also any because before being between both down during each few further here how more most ' +
      'once only ') +
    'other out over own same such through under until very why it’s gets got get'
  ).split(' '),
)
/** Endings that do not change what is meant, the longest first, and what they become. */
const ENDINGS: readonly (readonly [ending: string, becomes: string])[] = [
  ['ations', 'ate'],
  ['ation', 'ate'],
  ['ments', ''],
  ['ment', ''],
  ['ness', ''],
  ['ings', ''],
  ['ing', ''],
  ['ies', 'y'],
  ['ied', 'y'],
  ['edly', ''],
  ['ed', ''],
  ['es', ''],
  ['ly', ''],
  ['s', ''],
]
const STEM_LEAST = 3
const CHARS_MOST = 100_000

/** In their order: identifiers in their parts, too, each without its ending. */
export const wordsIn = (text: string): string[] => wordsWithWritten(text).map(([word]) => word)

/** Each with how it is written, in small letters. */
export function wordsWithWritten(text: string): [word: string, written: string][] {
  const found: [string, string][] = []
  for (const [written] of text
    .slice(0, CHARS_MOST)
    .normalize('NFKC')
    .matchAll(/[\p{L}\p{N}_]+/gu)) {
    const parts = partsOf(written)
    for (const part of parts) {
      const word = part.toLowerCase()
      if (!EMPTY.has(word)) found.push([stem(word), word])
    }
    // An identifier is known by itself, too.
    const whole = written.toLowerCase()
    if (parts.length > 1) found.push([whole, whole])
  }
  return found
}

/** "checkFareTotal2" → check, Fare, Total, 2. */
const partsOf = (written: string): string[] =>
  written.match(/\p{Lu}+(?!\p{Ll})|\p{Lu}?[\p{Ll}\p{Lo}\p{Lm}]+|\p{Lu}|\p{N}+/gu) ?? [written]

/** A light stemmer: only endings, and never more than leaves a word. */
export function stem(word: string): string {
  for (const [ending, becomes] of ENDINGS) {
    if (!word.endsWith(ending)) continue
    const rest = word.slice(0, -ending.length)
    if (rest.length < STEM_LEAST || (ending === 's' && rest.endsWith('s'))) continue
    return undoubled(rest + becomes)
  }
  return undoubled(word)
}

/** "stopp" of "stopped" is "stop"; a last e says nothing either. */
function undoubled(word: string): string {
  const once = /([^aeiouls])\1$/u.test(word) ? word.slice(0, -1) : word
  return once.length > STEM_LEAST && once.endsWith('e') ? once.slice(0, -1) : once
}

/** Words that were read on a screen, and where a text stands among them. */
import { union, type Box } from './pixels'

/** `sure`: 0 to 1, how sure who read it is. */
export type ReadWord = Box & { text: string; sure: number }
/** A text that was looked for. */
export type FoundText = Box & { text: string; sure: number }

/** Of their height: words further apart do not follow each other, and lines that differ more are two. */
const [APART, ANOTHER_LINE] = [2, 0.6]

/** Where the words of a text stand one after another on a line; capitals, accents and signs do not count, and
 * what programs mistake for each other (0 and O, 1 and l) is the same.
 * @returns the surest first */
export function findText(words: readonly ReadWord[], text: string): FoundText[] {
  const wanted = plain(text).split(' ').filter(Boolean)
  if (wanted.length === 0) return []
  const known = words
    .map((word) => ({ ...word, plain: plain(word.text) }))
    .filter((word) => word.plain !== '')
  return known
    .flatMap((_, first) => {
      const found = phraseAt(known, first, wanted.join(''))
      return found.length === 0 ? [] : [joined(found)]
    })
    .sort((a, b) => b.sure - a.sure)
}

/** The lines of words in a part of a picture, from top to bottom: words whose middle is in it. */
export function linesIn(words: readonly ReadWord[], part: Box): string[] {
  const inside = words.filter(
    ({ x, y, w, h }) =>
      x + w / 2 >= part.x &&
      x + w / 2 <= part.x + part.w &&
      y + h / 2 >= part.y &&
      y + h / 2 <= part.y + part.h,
  )
  const lines: ReadWord[][] = []
  for (const word of inside.toSorted((a, b) => a.y + a.h / 2 - b.y - b.h / 2)) {
    const [line] = lines.slice(-1)
    const [last] = line ?? []
    const isSame =
      last && Math.abs(last.y + last.h / 2 - word.y - word.h / 2) <= Math.max(last.h, word.h) * ANOTHER_LINE
    if (isSame) line!.push(word)
    else lines.push([word])
  }
  return lines.map((line) =>
    line
      .toSorted((a, b) => a.x - b.x)
      .map(({ text }) => text)
      .join(' '),
  )
}

type Known = ReadWord & { plain: string }

/** The words from `first` on that make up the text: who reads may part or join words in another way. */
function phraseAt(words: readonly Known[], first: number, wanted: string): Known[] {
  const phrase = [words[first]!]
  let sofar = words[first]!.plain.replaceAll(' ', '')
  while (wanted.startsWith(sofar) && sofar !== wanted) {
    const next = followerOf(words, phrase.at(-1)!)
    if (!next) return []
    phrase.push(next)
    sofar += next.plain.replaceAll(' ', '')
  }
  return sofar === wanted ? phrase : []
}

/** The nearest word to the right on the same line. */
function followerOf(words: readonly Known[], { x, y, w, h }: Box): Known | undefined {
  const near = words.filter(
    (word) =>
      word.x >= x + w - h * 0.3 &&
      word.x - x - w <= h * APART &&
      Math.abs(word.y + word.h / 2 - y - h / 2) <= Math.max(h, word.h) * ANOTHER_LINE,
  )
  return near.sort((a, b) => a.x - b.x)[0]
}

function joined(words: readonly Known[]): FoundText {
  const box = words.map(({ x, y, w, h }) => ({ x, y, w, h })).reduce(union)
  return {
    ...box,
    text: words.map(({ text }) => text).join(' '),
    sure: Math.min(...words.map(({ sure }) => sure)),
  }
}

const plain = (text: string) =>
  text
    .normalize('NFKD')
    .toLowerCase()
    .replace(/\p{M}/gu, '')
    .replace(/[^\p{L}\p{N}]+/gu, ' ')
    .replace(/[il|]/g, '1')
    .replace(/o/g, '0')
    .trim()

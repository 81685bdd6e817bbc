/** A text on any of many screens. */
import type { Box } from './pixels'
import { findText, type ReadWord } from './words'

export type OnScreen = { hash: string; boxes: Box[] }
export type ScreensQuestion = {
  screens: readonly { hash: string; words: readonly ReadWord[] }[]
  text: string
}

/** Places of one screen that are told. */
const BOXES_MOST = 20

/** @returns those it is on, in their order. A text of one word is found within words as well. */
export function findOnScreens({ screens, text }: ScreensQuestion): OnScreen[] {
  return screens.flatMap(({ hash, words }) => {
    const found = placesOf(words, text)
    return found.length === 0 ? [] : [{ hash, boxes: found.slice(0, BOXES_MOST) }]
  })
}

function placesOf(words: readonly ReadWord[], text: string): Box[] {
  const whole = findText(words, text)
  if (whole.length > 0) return whole.map(boxOf)
  const part = text.trim().toLowerCase()
  if (part === '' || /\s/.test(part)) return []
  return words.filter((word) => word.text.toLowerCase().includes(part)).map(boxOf)
}

const boxOf = ({ x, y, w, h }: Box): Box => ({ x, y, w, h })

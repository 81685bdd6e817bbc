/** What is around a box: the ground it stands on. */
import type { Box, Pixels } from './pixels'

/** Steps of 255 in a channel within which a colour is the same ground. */
const SAME_GROUND = 6
/** Of the pixels of an empty box so many are of the ground. */
const EMPTY_SHARE = 0.985

/** The colour that most pixels have on the line just within a box. */
export function colourAround({ width, height, data }: Pixels, { x, y, w, h }: Box): number {
  const counts = new Map<number, number>()
  let [most, colour] = [0, 0]
  const look = (u: number, v: number) => {
    if (u < 0 || v < 0 || u >= width || v >= height) return
    const at = (v * width + u) * 4
    const word = (data[at]! << 16) | (data[at + 1]! << 8) | data[at + 2]!
    const n = (counts.get(word) ?? 0) + 1
    counts.set(word, n)
    if (n > most) [most, colour] = [n, word]
  }
  for (let u = x; u < x + w; u++) {
    look(u, y)
    look(u, y + h - 1)
  }
  for (let v = y; v < y + h; v++) {
    look(x, v)
    look(x + w - 1, v)
  }
  return colour
}

/** @param at which pixel @param colour as `colourAround` gives it */
export function isColour({ data }: Pixels, at: number, colour: number): boolean {
  const i = at * 4
  return (
    Math.abs(data[i]! - (colour >> 16)) <= SAME_GROUND &&
    Math.abs(data[i + 1]! - ((colour >> 8) & 255)) <= SAME_GROUND &&
    Math.abs(data[i + 2]! - (colour & 255)) <= SAME_GROUND
  )
}

/** Whether there is nothing in a box: all of it is of the colour around it. */
export function isEmpty(picture: Pixels, { x, y, w, h }: Box): boolean {
  const colour = colourAround(picture, { x: x - 2, y: y - 2, w: w + 4, h: h + 4 })
  let others = w * h * (1 - EMPTY_SHARE)
  for (let v = y; v < y + h; v++)
    for (let u = x; u < x + w; u++)
      if (!isColour(picture, v * picture.width + u, colour) && --others < 0) return false
  return true
}

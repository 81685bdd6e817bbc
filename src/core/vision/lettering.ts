/** A screen made ready for reading: dark letters on white, whatever the colours, and no lines between them.
 * */
import { greyOf, type Grey } from './grey'
import type { Pixels } from './pixels'

/** The ground of a pixel is the commonest of so many steps of grey, this far around it. */
const [STEPS, REACH] = [16, 10]
const STEP = 256 / STEPS
/** A square of so many pixels around a middle, whose greys vary by no more than that, is no stroke. */
const [PLAIN, PLAIN_VARIES] = [5, 24]
/** Grey levels from the ground that are none, and how much stronger the others are shown. */
const [FAINT, STRENGTH] = [8, 2]
/** A straight stroke of more pixels is a line of the page, and no part of a letter. */
const LINE_LEAST = 40
/** A piece of fewer pixels is dust; one so thin is what is left of an edge when it is wider than a hyphen, or
 * higher than a letter. */
const SPECK = { least: 3, thin: 2, wide: 10, high: 24 }
/** Darker than this is ink. */
const INK = 200

export function lettering(pixels: Pixels): Grey {
  const grey = greyOf(pixels)
  const shown = fromGround(grey)
  const plain = plainParts(grey)
  for (let at = 0; at < shown.length; at++)
    shown[at] = plain[at] ? 255 : 255 - Math.min(255, Math.max(0, shown[at]! - FAINT) * STRENGTH)
  return withoutSpecks(withoutLines({ ...grey, data: shown }))
}

/** Pixels in a square of one colour: the corner of a button is no letter, though there is more of the page
 * around it (a morphological opening, Serra 1982). */
function plainParts({ width, height, data }: Grey): Float32Array {
  const lightest = largestAround(data, width, height)
  const negative = new Float32Array(data.length)
  for (let at = 0; at < data.length; at++) negative[at] = -data[at]!
  const darkest = largestAround(negative, width, height)
  const middles = new Float32Array(data.length)
  for (let at = 0; at < data.length; at++) middles[at] = lightest[at]! + darkest[at]! <= PLAIN_VARIES ? 1 : 0
  return largestAround(middles, width, height)
}

/** The largest in a square around each pixel: along the rows, then along the columns. Spans double until they
 * are as wide as it takes (van Herk 1992 needs as many steps, and is longer). */
function largestAround(data: Float32Array, width: number, height: number): Float32Array {
  const across = new Float32Array((height + 2 * PLAIN) * width).fill(-Infinity)
  const line = new Float32Array(width + 2 * PLAIN)
  for (let y = 0; y < height; y++) {
    line.fill(-Infinity)
    line.set(data.subarray(y * width, (y + 1) * width), PLAIN)
    largestAlong(line, 1)
    across.set(line.subarray(0, width), (y + PLAIN) * width)
  }
  largestAlong(across, width)
  return across.subarray(0, width * height)
}

/** Each becomes the largest of itself and of those after it, up to twice the reach. @param step from one to
 * the next; a whole row: columns, all at once, and in the order of memory */
function largestAlong(values: Float32Array, step: number): void {
  const wanted = 2 * PLAIN + 1
  for (let span = 1; span < wanted;) {
    const by = Math.min(span, wanted - span)
    const shift = by * step
    for (let at = 0, other = shift; other < values.length; at++, other++)
      if (values[other]! > values[at]!) values[at] = values[other]!
    span += by
  }
}

/** Of each pixel: how far it is from the ground around it. Counts slide along, a column in and one out
 * (Huang, Yang & Tang 1979). */
function fromGround({ width, height, data }: Grey): Float32Array {
  const steps = new Uint8Array(data.length)
  for (let at = 0; at < data.length; at++) steps[at] = Math.min(STEPS - 1, Math.floor(data[at]! / STEP))
  // Columns that stand beside the picture hold nothing.
  const columns = new Int32Array((width + 2 * REACH + 1) * STEPS)
  const first = (REACH + 1) * STEPS
  const away = new Float32Array(width * height)
  const row = (y: number, by: number) => {
    if (y < 0 || y >= height) return
    for (let x = 0; x < width; x++) columns[first + x * STEPS + steps[y * width + x]!]! += by
  }
  for (let y = 0; y < REACH; y++) row(y, 1)
  const counts = new Int32Array(STEPS)
  for (let y = 0; y < height; y++) {
    row(y + REACH, 1)
    row(y - REACH - 1, -1)
    const rows = Math.min(height - 1, y + REACH) - Math.max(0, y - REACH) + 1
    counts.fill(0)
    for (let at = 0; at < first + REACH * STEPS; at++) counts[at % STEPS]! += columns[at]!
    for (let x = 0; x < width; x++) {
      const out = x * STEPS
      const into = out + (2 * REACH + 1) * STEPS
      const at = y * width + x
      const step = steps[at]!
      // Most of a page is empty: one such column for another changes nothing.
      const isSame = columns[out + step] === rows && columns[into + step] === rows
      if (!isSame) for (let i = 0; i < STEPS; i++) counts[i]! += columns[into + i]! - columns[out + i]!
      away[at] = isSame && x > 0 && data[at] === data[at - 1] ? away[at - 1]! : toGround(counts, data[at]!)
    }
  }
  return away
}

/** From a value to the commonest two steps next to each other: noise about a limit falls into both. */
function toGround(counts: Int32Array, value: number): number {
  let first = 0
  let most = -1
  for (let step = 0; step < STEPS - 1; step++) {
    const both = counts[step]! + counts[step + 1]!
    if (both <= most) continue
    first = step
    most = both
  }
  const share = most === 0 ? 0 : counts[first + 1]! / most
  return Math.abs(value - (first + share + 0.5) * STEP)
}

/** Long strokes, across and down, become white. */
function withoutLines({ width, height, data }: Grey): Grey {
  const out = data.slice()
  const erase = (start: number, count: number, length: number, step: number, stride: number) => {
    for (let line = 0, from = start; line < count; line++, from += stride)
      for (let i = 0; i < length;) {
        let end = i
        while (end < length && data[from + end * step]! < INK) end++
        if (end - i > LINE_LEAST) for (let k = i; k < end; k++) out[from + k * step] = 255
        i = Math.max(end, i + 1)
      }
  }
  erase(0, height, width, 1, width)
  erase(0, width, height, width, 1)
  return { width, height, data: out }
}

/** What is left of edges becomes white: thin pieces that are longer than a hyphen, and dust. */
function withoutSpecks({ width, height, data }: Grey): Grey {
  const out = data.slice()
  const seen = new Uint8Array(data.length)
  const piece = new Int32Array(data.length)
  for (let start = 0; start < data.length; start++) {
    if (seen[start] || data[start]! >= INK) continue
    const count = pieceAt(data, width, height, start, seen, piece)
    if (isSpeck(piece, count, width)) for (let i = 0; i < count; i++) out[piece[i]!] = 255
  }
  return { width, height, data: out }
}

/** The pixels of ink that hang together, also over corners. @param piece takes them @returns how many */
function pieceAt(
  data: Float32Array,
  width: number,
  height: number,
  start: number,
  seen: Uint8Array,
  piece: Int32Array,
): number {
  let count = 1
  piece[0] = start
  seen[start] = 1
  for (let i = 0; i < count; i++) {
    const x = piece[i]! % width
    const y = (piece[i]! - x) / width
    for (let v = Math.max(0, y - 1); v <= Math.min(height - 1, y + 1); v++)
      for (let u = Math.max(0, x - 1); u <= Math.min(width - 1, x + 1); u++) {
        const at = v * width + u
        if (seen[at] || data[at]! >= INK) continue
        seen[at] = 1
        piece[count++] = at
      }
  }
  return count
}

function isSpeck(piece: Int32Array, count: number, width: number): boolean {
  if (count < SPECK.least) return true
  let [left, right, top, bottom] = [Infinity, 0, Infinity, 0]
  for (let i = 0; i < count; i++) {
    const x = piece[i]! % width
    const y = (piece[i]! - x) / width
    left = Math.min(left, x)
    right = Math.max(right, x)
    top = Math.min(top, y)
    bottom = Math.max(bottom, y)
  }
  const [across, down] = [right - left + 1, bottom - top + 1]
  return (down <= SPECK.thin && across >= SPECK.wide) || (across <= SPECK.thin && down >= SPECK.high)
}

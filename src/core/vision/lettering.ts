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
  const away = fromGround(grey)
  const plain = plainParts(grey)
  const shown = away.map((by, at) =>
    plain[at] ? 255 : 255 - Math.min(255, Math.max(0, by - FAINT) * STRENGTH),
  )
  return withoutSpecks(withoutLines({ ...grey, data: shown }))
}

/** Pixels in a square of one colour: the corner of a button is no letter, though there is more of the page
 * around it (a morphological opening, Serra 1982). */
function plainParts({ width, height, data }: Grey): Float32Array {
  const darkest = inSquares(data, width, height, -1)
  const lightest = inSquares(data, width, height, 1)
  const middles = darkest.map((dark, at) => Number(lightest[at]! - dark <= PLAIN_VARIES))
  return inSquares(middles, width, height, 1)
}

/** The least or largest in a square around each pixel: along the rows, then along the columns. */
function inSquares(data: Float32Array, width: number, height: number, sign: 1 | -1): Float32Array {
  const rows = largestAlong(sign === 1 ? data : data.map((value) => -value), height, width, width, 1)
  const both = largestAlong(rows, width, height, 1, width)
  return sign === 1 ? both : both.map((value) => -value)
}

/** The largest of so many on both sides, along each line. @param step from one of a line to the next;
 * `stride`: from line to line */
function largestAlong(data: Float32Array, lines: number, length: number, stride: number, step: number) {
  const out = new Float32Array(data.length)
  for (let line = 0; line < lines; line++)
    for (let i = 0; i < length; i++) {
      let at = line * stride + Math.max(0, i - PLAIN) * step
      const last = line * stride + Math.min(length - 1, i + PLAIN) * step
      let largest = data[at]!
      for (at += step; at <= last; at += step) if (data[at]! > largest) largest = data[at]!
      out[line * stride + i * step] = largest
    }
  return out
}

/** Of each pixel: how far it is from the ground around it. Counts slide along, a column in and one out
 * (Huang, Yang & Tang 1979). */
function fromGround({ width, height, data }: Grey): Float32Array {
  const steps = Uint8Array.from(data, (value) => Math.min(STEPS - 1, Math.floor(value / STEP)))
  const columns = new Int32Array(width * STEPS)
  const away = new Float32Array(width * height)
  const row = (y: number, by: number) => {
    if (y < 0 || y >= height) return
    for (let x = 0; x < width; x++) columns[x * STEPS + steps[y * width + x]!]! += by
  }
  for (let y = 0; y < REACH; y++) row(y, 1)
  const counts = new Int32Array(STEPS)
  const column = (x: number, by: number) => {
    if (x < 0 || x >= width) return
    for (let step = 0; step < STEPS; step++) counts[step]! += by * columns[x * STEPS + step]!
  }
  for (let y = 0; y < height; y++) {
    row(y + REACH, 1)
    row(y - REACH - 1, -1)
    counts.fill(0)
    for (let x = 0; x < REACH; x++) column(x, 1)
    for (let x = 0; x < width; x++) {
      column(x + REACH, 1)
      column(x - REACH - 1, -1)
      away[y * width + x] = nearest(counts, data[y * width + x]!)
    }
  }
  return away
}

/** From a value to the commonest two steps next to each other: noise about a limit falls into both. */
function nearest(counts: Int32Array, value: number): number {
  let [first, most] = [0, -1]
  for (let step = 0; step < STEPS - 1; step++) {
    const both = counts[step]! + counts[step + 1]!
    if (both > most) [first, most] = [step, both]
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
  for (let start = 0; start < data.length; start++) {
    if (seen[start] || data[start]! >= INK) continue
    const piece = pieceAt(data, width, height, start, seen)
    if (isSpeck(piece, width)) for (const at of piece) out[at] = 255
  }
  return { width, height, data: out }
}

/** The pixels of ink that hang together, also over corners. */
function pieceAt(data: Float32Array, width: number, height: number, start: number, seen: Uint8Array) {
  const piece = [start]
  seen[start] = 1
  for (let i = 0; i < piece.length; i++) {
    const [x, y] = [piece[i]! % width, Math.floor(piece[i]! / width)]
    for (let v = Math.max(0, y - 1); v <= Math.min(height - 1, y + 1); v++)
      for (let u = Math.max(0, x - 1); u <= Math.min(width - 1, x + 1); u++) {
        const at = v * width + u
        if (seen[at] || data[at]! >= INK) continue
        seen[at] = 1
        piece.push(at)
      }
  }
  return piece
}

function isSpeck(piece: readonly number[], width: number): boolean {
  if (piece.length < SPECK.least) return true
  let [left, right, top, bottom] = [Infinity, 0, Infinity, 0]
  for (const at of piece) {
    const [x, y] = [at % width, Math.floor(at / width)]
    left = Math.min(left, x)
    right = Math.max(right, x)
    top = Math.min(top, y)
    bottom = Math.max(bottom, y)
  }
  const [across, down] = [right - left + 1, bottom - top + 1]
  return (down <= SPECK.thin && across >= SPECK.wide) || (across <= SPECK.thin && down >= SPECK.high)
}

/** What only stands elsewhere: found by patches of a picture that are there once, and again, as they were, in
 * the other. */
import { isNear } from './changed'
import { areasOf } from './areas'
import { colourAround, isColour } from './around'
import { union, wordsOf, type Box, type Pixels } from './pixels'

/** Side of a patch. Smaller ones are there by chance, larger ones have to be whole. */
const PATCH = 8
/** Patches that say the same, before a move is believed. */
const VOTES_LEAST = 8
const MOVES_MOST = 6
const BLOCKS_MOST = 60
/** Of the pixels of a block so many may be others than before. */
const OTHERS_MOST = 0.03
/** Of a line at its edge. */
const LINE_OTHERS_MOST = 0.5
/** Pixels of a box that are looked at, nearly. */
const LOOKED_AT = 40_000
/** Patches that are compared, nearly: of more, those whose hashes say so, the same ones in both pictures. */
const PATCHES_MOST = 40_000

/** Where a block stands now, and how far it came. */
export type Move = { box: Box; dx: number; dy: number }

/** Blocks that only moved, those that most patches speak for first.
 * @param changed one byte a pixel; only patches with a changed pixel count */
export function movesIn(a: Pixels, b: Pixels, changed: Uint8Array): Move[] {
  const { width, height } = a
  const [ours, theirs] = [onlyOnce(patchesOf(a, changed)), onlyOnce(patchesOf(b, changed))]
  const votes = new Map<string, number[]>()
  for (const [hash, at] of theirs) {
    const from = at < 0 ? undefined : ours.get(hash)
    if (from === undefined || from < 0 || from === at) continue
    const key = `${(at % width) - (from % width)} ${Math.floor(at / width) - Math.floor(from / width)}`
    const known = votes.get(key)
    if (known) known.push(at)
    else votes.set(key, [at])
  }
  const areas = votes.size > 0 ? areasOf(changed, width, height).slice(0, BLOCKS_MOST) : []
  return [...votes]
    .filter(([, places]) => places.length >= VOTES_LEAST)
    .sort(([, one], [, other]) => other.length - one.length)
    .slice(0, MOVES_MOST)
    .flatMap(([key, places]) => {
      const [dx, dy] = key.split(' ').map(Number) as [number, number]
      return blocksOf(a, b, areas, places, { dx, dy }).map((box) => ({ box, dx, dy }))
    })
}

/** @returns the places of what is there once; -1 where it is there more often */
function onlyOnce(patches: Iterable<[hash: number, at: number]>): Map<number, number> {
  const places = new Map<number, number>()
  for (const [hash, at] of patches) places.set(hash, places.has(hash) ? -1 : at)
  return places
}

type Way = { dx: number; dy: number }

/** The blocks that patches of one move make up: as large as they can be with all in them moved. */
function blocksOf(a: Pixels, b: Pixels, changed: readonly Box[], places: readonly number[], way: Way): Box[] {
  const { width, height } = b
  const marks = new Uint8Array(width * height)
  for (const at of places)
    for (let y = 0; y < PATCH; y++) marks.fill(1, at + y * width, at + y * width + PATCH)
  const areas: Box[] = areasOf(marks, width, height).slice(0, BLOCKS_MOST)
  const whole = areas.reduce(union)
  const blocks: Box[] = []
  // most often all that moved the same way is one block, with its margin or without; else each area joins the
  // first block it fits
  const one = [whole, inset(whole)].find((box) => hasMoved(a, b, box, way))
  for (const area of one ? [one] : areas) join(blocks, area, (box) => hasMoved(a, b, box, way))
  // what is there more often has no patch of its own, and moved with the rest all the same
  if (blocks.length > 0) for (const area of changed) join(blocks, area, (box) => hasMoved(a, b, box, way))
  return blocks.map((box) => trimmed(a, b, box, way)).filter(({ w, h }) => w > 0 && h > 0)
}

/** Adds a box to the first block with which it fits, or as a block of its own. */
function join(blocks: Box[], box: Box, fits: (box: Box) => boolean): void {
  const at = blocks.findIndex((block) => fits(union(block, box)))
  if (at >= 0) blocks[at] = union(blocks[at]!, box)
  else if (fits(box)) blocks.push(box)
}

const inset = ({ x, y, w, h }: Box): Box => ({
  x: x + PATCH - 1,
  y: y + PATCH - 1,
  w: Math.max(1, w - 2 * (PATCH - 1)),
  h: Math.max(1, h - 2 * (PATCH - 1)),
})

/** Whether nearly all pixels of a box are as they were before the move; of large ones only some are looked
 * at. */
function hasMoved(a: Pixels, b: Pixels, { x, y, w, h }: Box, { dx, dy }: Way, most = OTHERS_MOST): boolean {
  const { width, height } = a
  const step = Math.max(1, Math.floor(Math.sqrt((w * h) / LOOKED_AT)))
  let others = (w * h * most) / step ** 2
  for (let v = y; v < y + h; v += step)
    for (let u = x; u < x + w; u += step) {
      const [from, row] = [u - dx, v - dy]
      const isThere = from >= 0 && row >= 0 && from < width && row < height
      if (isThere && isNear(b.data, a.data, (v * width + u) * 4, (row * width + from) * 4)) continue
      if (--others < 0) return false
    }
  return true
}

/** Without the margin of the colour around it, which patches at its edges brought along, and without lines at
 * its edges that did not move. */
function trimmed(a: Pixels, b: Pixels, box: Box, way: Way): Box {
  const margin = colourAround(b, box)
  let { x, y, w, h } = box
  const isMargin = (column: number, row: number, columns: number, rows: number) => {
    const line = { x: column, y: row, w: columns, h: rows }
    if (!hasMoved(a, b, line, way, LINE_OTHERS_MOST)) return true
    for (let v = row; v < row + rows; v++)
      for (let u = column; u < column + columns; u++) if (!isColour(b, v * b.width + u, margin)) return false
    return true
  }
  while (h > 0 && isMargin(x, y, w, 1)) [y, h] = [y + 1, h - 1]
  while (h > 0 && isMargin(x, y + h - 1, w, 1)) h--
  while (w > 0 && isMargin(x, y, 1, h)) [x, w] = [x + 1, w - 1]
  while (w > 0 && isMargin(x + w - 1, y, 1, h)) w--
  return { x, y, w, h }
}

/** Hashes of the patches that are of more than one colour, with their upper left corner: rolling ones (Karp &
 * Rabin 1987), of rows first, then of columns of those. */
function patchesOf(picture: Pixels, changed: Uint8Array): [hash: number, at: number][] {
  const { width, height } = picture
  const words = wordsOf(picture)
  const [rows, near] = rowsOf(words, changed, width, height)
  const all = near.reduce((sum, hits) => sum + (hits > 0 ? 1 : 0), 0)
  const chosen = (1 << Math.max(0, Math.ceil(Math.log2(all / PATCHES_MOST)))) - 1
  const found: [number, number][] = []
  const first = powerOf(COLUMN)
  for (let x = 0; x + PATCH <= width; x++) {
    let [hash, hits] = [0, 0]
    for (let y = 0; y < height; y++) {
      const at = y * width + x
      hash = (Math.imul(hash, COLUMN) + rows[at]!) | 0
      hits += near[at]!
      if (y >= PATCH) {
        hash = (hash - Math.imul(rows[at - PATCH * width]!, first)) | 0
        hits -= near[at - PATCH * width]!
      }
      const top = at - (PATCH - 1) * width
      if (y < PATCH - 1 || hits === 0 || (mixed(hash) & chosen) !== 0) continue
      if (!isPlain(words, top, width)) found.push([hash >>> 0, top])
    }
  }
  return found
}

/** Of each row of a patch its hash, and how many of its pixels changed. */
function rowsOf(
  words: Uint32Array,
  changed: Uint8Array,
  width: number,
  height: number,
): [Uint32Array, Uint8Array] {
  const [rows, near] = [new Uint32Array(width * height), new Uint8Array(width * height)]
  const first = powerOf(ROW)
  for (let y = 0; y < height; y++) {
    let [hash, hits] = [0, 0]
    for (let x = 0; x < width; x++) {
      const at = y * width + x
      hash = (Math.imul(hash, ROW) + words[at]!) | 0
      hits += changed[at]!
      if (x >= PATCH) {
        hash = (hash - Math.imul(words[at - PATCH]!, first)) | 0
        hits -= changed[at - PATCH]!
      }
      if (x < PATCH - 1) continue
      rows[at - PATCH + 1] = hash >>> 0
      near[at - PATCH + 1] = hits
    }
  }
  return [rows, near]
}

/** What the first of the numbers in a hash was multiplied by, once the next is added. */
const powerOf = (base: number) =>
  Array.from({ length: PATCH }).reduce((power: number) => Math.imul(power, base), 1)
/** The last bits of a rolling hash say little. */
const mixed = (hash: number) => Math.imul(hash ^ (hash >>> 15), 0x2c1b3c6d) >>> 12
const [ROW, COLUMN] = [0x01000193, 0x85ebca6b]

/** Whether a patch is of one colour, or of stripes that are the same in each row or each column: such patches
 * are everywhere along an edge. */
function isPlain(words: Uint32Array, top: number, width: number): boolean {
  let [alongRows, alongColumns] = [true, true]
  for (let y = 0; y < PATCH && (alongRows || alongColumns); y++)
    for (let x = 0; x < PATCH; x++) {
      const word = words[top + y * width + x]!
      if (word !== words[top + x]) alongRows = false
      if (word !== words[top + y * width]) alongColumns = false
    }
  return alongRows || alongColumns
}

/** Pixels that belong together, as boxes around them. */
import { union, type Box } from './pixels'

/** Pixels of one area may be this far apart: letters of a line are, and lines of a paragraph. */
const CELL = 8

export type Area = Box & { pixels: number }

/** Areas of the pixels of a mask, from the top. Those whose boxes overlap are one. */
export function areasOf(mask: Uint8Array, width: number, height: number): Area[] {
  const [columns, rows] = [Math.ceil(width / CELL), Math.ceil(height / CELL)]
  const cells = cellsOf(mask, width, height, columns, rows)
  const seen = new Uint8Array(columns * rows)
  const areas: Area[] = []
  for (let cell = 0; cell < cells.length; cell++) {
    const first = cells[cell]
    if (!first || seen[cell]) continue
    const waiting = [cell]
    seen[cell] = 1
    const area = { ...first }
    for (let next = waiting.pop(); next !== undefined; next = waiting.pop()) {
      widen(area, cells[next]!)
      const x = next % columns
      const y = (next - x) / columns
      for (let v = Math.max(0, y - 1); v <= Math.min(rows - 1, y + 1); v++)
        for (let u = Math.max(0, x - 1); u <= Math.min(columns - 1, x + 1); u++) {
          const near = v * columns + u
          if (!cells[near] || seen[near]) continue
          seen[near] = 1
          waiting.push(near)
        }
    }
    areas.push({ ...area, pixels: count(mask, width, area) })
  }
  return withoutOverlaps(areas)
}

/** The box around the pixels of each cell that has any. */
function cellsOf(
  mask: Uint8Array,
  width: number,
  height: number,
  columns: number,
  rows: number,
): (Area | undefined)[] {
  const cells = new Array<Area | undefined>(columns * rows)
  for (let row = 0; row < rows; row++)
    for (let column = 0; column < columns; column++)
      cells[row * columns + column] = areaIn(mask, width, {
        x: column * CELL,
        y: row * CELL,
        w: Math.min(CELL, width - column * CELL),
        h: Math.min(CELL, height - row * CELL),
      })
  return cells
}

function areaIn(mask: Uint8Array, width: number, { x, y, w, h }: Box): Area | undefined {
  let left = x + w
  let right = -1
  let top = y + h
  let bottom = -1
  let pixels = 0
  for (let v = y; v < y + h; v++)
    for (let u = x; u < x + w; u++) {
      if (mask[v * width + u] === 0) continue
      pixels++
      if (u < left) left = u
      if (u > right) right = u
      if (v < top) top = v
      bottom = v
    }
  return pixels === 0 ? undefined : { x: left, y: top, w: right + 1 - left, h: bottom + 1 - top, pixels }
}

/** Until it covers the other box, too. */
function widen(area: Box, { x, y, w, h }: Box): void {
  const right = Math.max(area.x + area.w, x + w)
  const bottom = Math.max(area.y + area.h, y + h)
  area.x = Math.min(area.x, x)
  area.y = Math.min(area.y, y)
  area.w = right - area.x
  area.h = bottom - area.y
}

const joined = (a: Area, b: Area): Area => ({ ...union(a, b), pixels: a.pixels + b.pixels })

function count(mask: Uint8Array, width: number, { x, y, w, h }: Box): number {
  let n = 0
  for (let row = y; row < y + h; row++)
    for (let at = row * width + x; at < row * width + x + w; at++) n += mask[at]!
  return n
}

function withoutOverlaps(areas: readonly Area[]): Area[] {
  const left = [...areas]
  for (let i = 0; i < left.length; i++)
    for (let j = i + 1; j < left.length; j++) {
      if (!overlap(left[i]!, left[j]!)) continue
      left[i] = joined(left[i]!, left[j]!)
      left.splice(j, 1)
      j = i // the larger box may overlap what was passed
    }
  return left.sort((a, b) => a.y - b.y || a.x - b.x)
}

export const overlap = (a: Box, b: Box): boolean =>
  a.x < b.x + b.w && b.x < a.x + a.w && a.y < b.y + b.h && b.y < a.y + a.h

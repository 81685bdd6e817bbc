/** How much a patch is like a place on a screen: normalised cross-correlation (Lewis 1995). */
import { Sums, type Grey } from './grey'

/** A screen that patches are looked for on. */
export type Field = Grey & { sums: Sums }
/** A patch, less its mean. */
export type Pattern = Grey & { /** The root of the sum of its squares. */ norm: number }

export const fieldOf = (grey: Grey): Field => ({ ...grey, sums: new Sums(grey) })

export function patternOf({ width, height, data }: Grey): Pattern {
  const mean = data.reduce((sum, value) => sum + value, 0) / data.length
  const values = data.map((value) => value - mean)
  return { width, height, data: values, norm: Math.hypot(...rootsOf(values, width)) }
}

/** One number a row: `Math.hypot` takes no million arguments. */
function rootsOf(values: Float32Array, width: number): number[] {
  const roots = []
  for (let at = 0; at < values.length; at += width)
    roots.push(Math.sqrt(values.subarray(at, at + width).reduce((sum, value) => sum + value * value, 0)))
  return roots
}

/** Grey levels that a place has to vary by, on average: less is an empty ground. */
const VARIES_LEAST = 2.5

/** @returns from -1, what is light there is dark here, to 1, the same; 0 where the place is empty */
export function likeness(field: Field, pattern: Pattern, x: number, y: number): number {
  const spread = field.sums.spread(x, y, pattern.width, pattern.height)
  return isVaried(spread, pattern) ? productOf(field, pattern, x, y) / (Math.sqrt(spread) * pattern.norm) : 0
}

/** The same from a sum of products that is known. */
export const normalised = (product: number, spread: number, pattern: Pattern) =>
  isVaried(spread, pattern) ? product / (Math.sqrt(spread) * pattern.norm) : 0

const isVaried = (spread: number, { width, height, norm }: Pattern) =>
  norm > 0 && spread >= VARIES_LEAST ** 2 * width * height

function productOf(field: Field, pattern: Pattern, x: number, y: number): number {
  const { width, height, data } = pattern
  let product = 0
  for (let v = 0, at = 0; v < height; v++) {
    let from = (y + v) * field.width + x
    for (const end = at + width; at < end; at++, from++) product += data[at]! * field.data[from]!
  }
  return product
}

/** Brightness of a picture, one number a pixel, and sums over boxes of it. */
import type { Pixels } from './pixels'

/** 0 to 255 each, row by row. */
export type Grey = { width: number; height: number; data: Float32Array }

/** Luma of ITU-R BT.601. */
export function greyOf({ width, height, data }: Pixels): Grey {
  const grey = new Float32Array(width * height)
  for (let at = 0, from = 0; at < grey.length; at++, from += 4)
    grey[at] = 0.299 * data[from]! + 0.587 * data[from + 1]! + 0.114 * data[from + 2]!
  return { width, height, data: grey }
}

/** Where a pixel of a row comes from: `first` and how much of each that follows. */
type Share = { first: number; weights: number[] }

/** At another size: the mean of the area that a pixel covers when it gets smaller, between the two nearest
 * when it gets larger. */
export function resized(grey: Grey, width: number, height: number): Grey {
  if (width === grey.width && height === grey.height) return grey
  const columns = sharesOf(grey.width, width)
  const rows = sharesOf(grey.height, height)
  const narrow = new Float32Array(width * grey.height)
  for (let y = 0; y < grey.height; y++)
    for (let x = 0; x < width; x++) {
      const { first, weights } = columns[x]!
      let sum = 0
      for (let i = 0; i < weights.length; i++) sum += weights[i]! * grey.data[y * grey.width + first + i]!
      narrow[y * width + x] = sum
    }
  const data = new Float32Array(width * height)
  for (let y = 0; y < height; y++) {
    const { first, weights } = rows[y]!
    for (let i = 0; i < weights.length; i++)
      for (let x = 0; x < width; x++) data[y * width + x]! += weights[i]! * narrow[(first + i) * width + x]!
  }
  return { width, height, data }
}

function sharesOf(from: number, to: number): Share[] {
  return Array.from({ length: to }, (_, at) =>
    to < from ? areaShare(at, from, to) : lineShare(at, from, to),
  )
}

function areaShare(at: number, from: number, to: number): Share {
  const [start, end] = [(at * from) / to, ((at + 1) * from) / to]
  const first = Math.floor(start)
  const last = Math.min(from, Math.ceil(end))
  const weights = []
  for (let i = first; i < last; i++) weights.push((Math.min(end, i + 1) - Math.max(start, i)) / (end - start))
  return { first, weights }
}

function lineShare(at: number, from: number, to: number): Share {
  const centre = Math.min(from - 1, Math.max(0, ((at + 0.5) * from) / to - 0.5))
  const first = Math.min(Math.floor(centre), Math.max(0, from - 2))
  const share = centre - first
  return { first, weights: from === 1 ? [1] : [1 - share, share] }
}

/** Sums of any box in four steps (summed-area tables, Crow 1984). */
export class Sums {
  private readonly sums: Float64Array
  private readonly squares: Float64Array
  private readonly stride: number

  constructor({ width, height, data }: Grey) {
    this.stride = width + 1
    this.sums = new Float64Array((width + 1) * (height + 1))
    this.squares = new Float64Array((width + 1) * (height + 1))
    for (let y = 0; y < height; y++) {
      let [sum, square] = [0, 0]
      for (let x = 0; x < width; x++) {
        const value = data[y * width + x]!
        sum += value
        square += value * value
        const at = (y + 1) * this.stride + x + 1
        this.sums[at] = this.sums[at - this.stride]! + sum
        this.squares[at] = this.squares[at - this.stride]! + square
      }
    }
  }

  sum(x: number, y: number, w: number, h: number): number {
    return this.over(this.sums, x, y, w, h)
  }

  /** The sum of (value - mean)^2. */
  spread(x: number, y: number, w: number, h: number): number {
    const sum = this.over(this.sums, x, y, w, h)
    return Math.max(0, this.over(this.squares, x, y, w, h) - (sum * sum) / (w * h))
  }

  private over(table: Float64Array, x: number, y: number, w: number, h: number): number {
    const top = y * this.stride
    const bottom = (y + h) * this.stride
    return table[bottom + x + w]! - table[bottom + x]! - table[top + x + w]! + table[top + x]!
  }
}

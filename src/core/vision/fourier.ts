/** Fourier transforms of planes (Cooley & Tukey 1965), and the correlation of planes by them. */

/** Complex numbers, row by row; of sides that can be transformed. */
type Plane = { width: number; height: number; re: Float64Array; im: Float64Array }

/** Columns that are transformed together. */
const COLUMNS = 8
const ROOT_3_BY_2 = Math.sqrt(3) / 2

/** One line of `size` numbers, in place: a power of two, or three times one. */
class LineTransform {
  /** Lines of a power of two, which are transformed by themselves and then put together. */
  private readonly parts: 1 | 3
  private readonly part: number
  private readonly cos: Float64Array
  private readonly sin: Float64Array
  /** Where each number comes from. */
  private readonly from: Uint32Array
  private readonly x: Float64Array
  private readonly y: Float64Array

  constructor(readonly size: number) {
    this.parts = size % 3 === 0 ? 3 : 1
    this.part = size / this.parts
    this.cos = Float64Array.from({ length: size }, (_, i) => Math.cos((2 * Math.PI * i) / size))
    this.sin = Float64Array.from({ length: size }, (_, i) => -Math.sin((2 * Math.PI * i) / size))
    this.from = new Uint32Array(size)
    for (let i = 0; i < this.part; i++) {
      const swapped = i === 0 ? 0 : (this.from[i >> 1]! / this.parts / 2) | (i & 1 ? this.part >> 1 : 0)
      for (let part = 0; part < this.parts; part++)
        this.from[part * this.part + i] = swapped * this.parts + part
    }
    this.x = new Float64Array(size)
    this.y = new Float64Array(size)
  }

  run(re: Float64Array, im: Float64Array): void {
    const { size, part, parts, from, x, y } = this
    for (let i = 0; i < size; i++) {
      x[i] = re[from[i]!]!
      y[i] = im[from[i]!]!
    }
    for (let half = 1; half < part; half *= 2) this.double(half)
    if (parts === 3) this.joinThree(re, im)
    else {
      re.set(x)
      im.set(y)
    }
  }

  /** From lines of `half` numbers to those of twice as many. */
  private double(half: number): void {
    const { size, cos, sin, x, y } = this
    const step = size / (2 * half)
    for (let from = 0; from < size; from += 2 * half)
      for (let i = from, k = 0; i < from + half; i++, k += step) {
        // One name for each: pairs that are taken apart cost as much as the sums here.
        const j = i + half
        const c = cos[k]!
        const s = sin[k]!
        const u = x[j]! * c - y[j]! * s
        const v = x[j]! * s + y[j]! * c
        const a = x[i]!
        const b = y[i]!
        x[j] = a - u
        y[j] = b - v
        x[i] = a + u
        y[i] = b + v
      }
  }

  private joinThree(re: Float64Array, im: Float64Array): void {
    const { part, cos, sin, x, y } = this
    for (let k = 0, l = part, m = 2 * part; k < part; k++, l++, m++) {
      const bx = x[l]! * cos[k]! - y[l]! * sin[k]!
      const by = x[l]! * sin[k]! + y[l]! * cos[k]!
      const cx = x[m]! * cos[2 * k]! - y[m]! * sin[2 * k]!
      const cy = x[m]! * sin[2 * k]! + y[m]! * cos[2 * k]!
      const midX = x[k]! - (bx + cx) / 2
      const midY = y[k]! - (by + cy) / 2
      const farX = (by - cy) * ROOT_3_BY_2
      const farY = (bx - cx) * ROOT_3_BY_2
      re[k] = x[k]! + bx + cx
      im[k] = y[k]! + by + cy
      re[l] = midX + farX
      im[l] = midY - farY
      re[m] = midX - farX
      im[m] = midY + farY
    }
  }
}

/** The screen that patterns are correlated with, transformed once. */
export class Correlator {
  private readonly across: LineTransform
  private readonly down: LineTransform
  private readonly screen: Plane

  constructor(private readonly field: { width: number; height: number; data: Float32Array }) {
    this.across = new LineTransform(sizeFrom(field.width))
    this.down = new LineTransform(sizeFrom(field.height))
    this.screen = this.plane()
    this.put(field, this.screen.re)
    this.transform(this.screen, field.height)
    // Forth and back makes all of it larger by the number of its pixels.
    const { re, im } = this.screen
    for (let i = 0; i < re.length; i++) {
      re[i]! /= re.length
      im[i]! /= re.length
    }
  }

  /** Two patterns at once, one as the imaginary part of the other.
   * @returns for each the sum of products at each place of the screen; right where it lies inside */
  products(
    one: { width: number; height: number; data: Float32Array },
    other: { width: number; height: number; data: Float32Array },
  ): { stride: number; one: Float64Array; other: Float64Array } {
    const plane = this.plane()
    this.put(one, plane.re)
    this.put(other, plane.im)
    this.transform(plane, Math.max(one.height, other.height))
    const { re, im } = plane
    const { re: a, im: b } = this.screen
    // The inverse is a transform of the conjugate: conj(screen * conj(pattern)).
    for (let i = 0; i < re.length; i++) {
      const x = re[i]!
      const y = im[i]!
      re[i] = a[i]! * x + b[i]! * y
      im[i] = a[i]! * y - b[i]! * x
    }
    this.transform(plane, plane.height)
    return { stride: plane.width, one: re, other: im }
  }

  private plane(): Plane {
    const [width, height] = [this.across.size, this.down.size]
    return { width, height, re: new Float64Array(width * height), im: new Float64Array(width * height) }
  }

  private put(from: { width: number; height: number; data: Float32Array }, into: Float64Array): void {
    for (let y = 0; y < from.height; y++)
      into.set(from.data.subarray(y * from.width, (y + 1) * from.width), y * this.across.size)
  }

  /** @param rows only so many hold anything */
  private transform({ width, height, re, im }: Plane, rows: number): void {
    for (let at = 0; at < rows * width; at += width)
      this.across.run(re.subarray(at, at + width), im.subarray(at, at + width))
    // Some columns at once: what stands beside is in the same line of the processor's memory.
    const x = new Float64Array(height * COLUMNS)
    const y = new Float64Array(height * COLUMNS)
    for (let column = 0; column < width; column += COLUMNS) {
      const count = Math.min(COLUMNS, width - column)
      for (let i = 0, at = column; i < height; i++, at += width)
        for (let k = 0; k < count; k++) {
          x[k * height + i] = re[at + k]!
          y[k * height + i] = im[at + k]!
        }
      for (let from = 0; from < count * height; from += height)
        this.down.run(x.subarray(from, from + height), y.subarray(from, from + height))
      for (let i = 0, at = column; i < height; i++, at += width)
        for (let k = 0; k < count; k++) {
          re[at + k] = x[k * height + i]!
          im[at + k] = y[k * height + i]!
        }
    }
  }
}

/** Pixels of the plane that a screen of this size is transformed in. */
export const transformedArea = (width: number, height: number): number => sizeFrom(width) * sizeFrom(height)

/** The least size that can be transformed and is no smaller. */
function sizeFrom(least: number): number {
  const power = 2 ** Math.max(2, Math.ceil(Math.log2(least)))
  return (power / 4) * 3 >= least ? (power / 4) * 3 : power
}

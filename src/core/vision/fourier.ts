/** Fourier transforms of planes (Cooley & Tukey 1965), and the correlation of planes by them. */

/** Complex numbers, row by row; both sides are powers of two. */
type Plane = { width: number; height: number; re: Float64Array; im: Float64Array }

/** One line of `size` numbers, in place. */
class LineTransform {
  private readonly cos: Float64Array
  private readonly sin: Float64Array
  private readonly swapped: Uint32Array

  constructor(readonly size: number) {
    this.cos = Float64Array.from({ length: size / 2 }, (_, i) => Math.cos((2 * Math.PI * i) / size))
    this.sin = Float64Array.from({ length: size / 2 }, (_, i) => -Math.sin((2 * Math.PI * i) / size))
    this.swapped = new Uint32Array(size)
    for (let i = 1; i < size; i++) this.swapped[i] = (this.swapped[i >> 1]! >> 1) | (i & 1 ? size >> 1 : 0)
  }

  run(re: Float64Array, im: Float64Array): void {
    const { size, cos, sin } = this
    for (let i = 0; i < size; i++) {
      const j = this.swapped[i]!
      if (j <= i) continue
      const [a, b] = [re[i]!, im[i]!]
      re[i] = re[j]!
      im[i] = im[j]!
      re[j] = a
      im[j] = b
    }
    for (let half = 1; half < size; half *= 2) {
      const step = size / (2 * half)
      for (let from = 0; from < size; from += 2 * half)
        for (let i = from, k = 0; i < from + half; i++, k += step) {
          const [c, s, x, y] = [cos[k]!, sin[k]!, re[i + half]!, im[i + half]!]
          const u = x * c - y * s
          const v = x * s + y * c
          re[i + half] = re[i]! - u
          im[i + half] = im[i]! - v
          re[i]! += u
          im[i]! += v
        }
    }
  }
}

/** The screen that patterns are correlated with, transformed once. */
export class Correlator {
  private readonly across: LineTransform
  private readonly down: LineTransform
  private readonly screen: Plane

  constructor(private readonly field: { width: number; height: number; data: Float32Array }) {
    this.across = new LineTransform(powerFrom(field.width))
    this.down = new LineTransform(powerFrom(field.height))
    this.screen = this.plane()
    this.put(field, this.screen.re)
    this.transform(this.screen, field.height)
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
      const [x, y] = [a[i]! * re[i]! + b[i]! * im[i]!, a[i]! * im[i]! - b[i]! * re[i]!]
      re[i] = x
      im[i] = y
    }
    this.transform(plane, plane.height)
    const all = re.length
    for (let i = 0; i < all; i++) {
      re[i]! /= all
      im[i]! /= all
    }
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
    const [x, y] = [new Float64Array(height), new Float64Array(height)]
    for (let column = 0; column < width; column++) {
      for (let i = 0, at = column; i < height; i++, at += width) {
        x[i] = re[at]!
        y[i] = im[at]!
      }
      this.down.run(x, y)
      for (let i = 0, at = column; i < height; i++, at += width) {
        re[at] = x[i]!
        im[at] = y[i]!
      }
    }
  }
}

const powerFrom = (size: number) => 2 ** Math.max(1, Math.ceil(Math.log2(size)))

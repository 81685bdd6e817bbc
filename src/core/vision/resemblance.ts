/** How sure it is that what stands at a place is the patch: as a whole, and part by part. */
import type { Pattern } from './correlation'
import type { Grey } from './grey'

/** Pixels of a part, about, and its least spread: an empty part says nothing. */
const PART = 16
const VARIES_LEAST = 3
/** Grey levels that are noise, so that faint parts count less. */
const NOISE = 2
/** What a true place reaches at least, as a rule; a small patch is like many things, and has to reach more.
 * */
const SURE = { from: 0.66, small: 0.2, area: 1000 }
/** The score that says it is there. */
const THERE = 0.8

/** @param like the correlation of the whole, 0 to 1
 * @returns 0 to 1; from 0.8 on the patch is there */
export function resemblance(field: Grey, pattern: Pattern, x: number, y: number, like: number): number {
  const both = (like + partsLikeness(field, pattern, x, y)) / 2
  const area = pattern.width * pattern.height
  const sure = SURE.from + SURE.small * Math.max(0, 1 - area / SURE.area)
  return both < sure ? (both / sure) * THERE : THERE + ((both - sure) / (1 - sure)) * (1 - THERE)
}

/** The mean of the correlation of each part, by how much it shows. Two frames of the same size are alike as a
 * whole, and not in what they hold. */
function partsLikeness(field: Grey, pattern: Pattern, x: number, y: number): number {
  const columns = Math.max(1, Math.round(pattern.width / PART))
  const rows = Math.max(1, Math.round(pattern.height / PART))
  let [sum, weights] = [0, 0]
  for (let row = 0; row < rows; row++)
    for (let column = 0; column < columns; column++) {
      const part = {
        left: Math.floor((column * pattern.width) / columns),
        right: Math.floor(((column + 1) * pattern.width) / columns),
        top: Math.floor((row * pattern.height) / rows),
        bottom: Math.floor(((row + 1) * pattern.height) / rows),
      }
      const { like, weight } = partLikeness(field, pattern, x, y, part)
      sum += like * weight
      weights += weight
    }
  return weights === 0 ? 0 : sum / weights
}

type Part = { left: number; right: number; top: number; bottom: number }

function partLikeness(field: Grey, pattern: Pattern, x: number, y: number, part: Part) {
  const count = (part.right - part.left) * (part.bottom - part.top)
  let [a, b, aa, bb, ab] = [0, 0, 0, 0, 0]
  for (let v = part.top; v < part.bottom; v++)
    for (let u = part.left; u < part.right; u++) {
      const one = pattern.data[v * pattern.width + u]!
      const other = field.data[(y + v) * field.width + x + u]!
      a += one
      b += other
      aa += one * one
      bb += other * other
      ab += one * other
    }
  const [varies, otherVaries] = [varianceOf(a, aa, count), varianceOf(b, bb, count)]
  if (Math.max(varies, otherVaries) < VARIES_LEAST ** 2) return { like: 0, weight: 0 }
  const together = (ab - (a * b) / count) / count
  return {
    like: Math.abs(together) / (Math.sqrt(varies * otherVaries) + NOISE ** 2),
    weight: Math.sqrt(Math.max(varies, otherVaries)),
  }
}

const varianceOf = (sum: number, squares: number, count: number) =>
  Math.max(0, squares - (sum * sum) / count) / count

/** Which pixels of two pictures of one size differ to somebody who looks. */
import pixelmatch from 'pixelmatch'
import { wordsOf, type Box, type Pixels } from './pixels'

/** Steps of 255 in a channel that are no difference. */
export const SAME_STEPS = 2

/** Where more of a picture differs it is another one, or another theme. */
export const ANOTHER_FROM = 0.6

/** One byte a pixel: 1 where they differ. Smoothed edges are no difference (Vyšniauskas 2009, as pixelmatch
 * has it); of another picture they are not looked for. */
export function changedPixels(a: Pixels, b: Pixels, ignored: readonly Box[], steps = SAME_STEPS): Uint8Array {
  const { width, height } = a
  const ignoreMask = alike(a, b, steps)
  for (const { x, y, w, h } of ignored)
    for (let row = Math.max(0, y); row < Math.min(height, y + h); row++)
      ignoreMask.fill(1, row * width + Math.max(0, x), row * width + Math.max(0, Math.min(width, x + w)))
  let same = 0
  for (let i = 0; i < ignoreMask.length; i++) same += ignoreMask[i]!
  if (same < width * height * (1 - ANOTHER_FROM)) return ignoreMask.map((is) => 1 - is)
  const drawn = new Uint8Array(width * height * 4)
  pixelmatch(a.data, b.data, drawn, width, height, {
    threshold: 0,
    diffMask: true,
    aaColor: [0, 0, 0],
    diffColor: [255, 0, 0],
    ignoreMask,
  })
  const changed = new Uint8Array(width * height)
  for (let i = 0; i < changed.length; i++) changed[i] = drawn[i * 4] === 255 ? 1 : 0
  return changed
}

/** 1 where no channel differs by more than so many steps. */
function alike(a: Pixels, b: Pixels, steps: number): Uint8Array {
  const [ours, theirs] = [wordsOf(a), wordsOf(b)]
  const same = new Uint8Array(ours.length)
  for (let i = 0; i < ours.length; i++)
    if (ours[i] === theirs[i] || isNear(a.data, b.data, i * 4, i * 4, steps)) same[i] = 1
  return same
}

/** Whether the pixels of two pictures, each at its place in bytes, are of one colour. */
export function isNear(a: Uint8Array, b: Uint8Array, at: number, there: number, steps = SAME_STEPS): boolean {
  for (let channel = 0; channel < 4; channel++)
    if (Math.abs(a[at + channel]! - b[there + channel]!) > steps) return false
  return true
}

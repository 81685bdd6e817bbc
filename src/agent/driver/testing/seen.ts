/** Pictures that drivers under test find things by; tests put them here. */
import sharp from 'sharp'
import type { ScreenShot } from '../port'

export const PICTURES: Record<string, string> = {}

/** A part of a screen, in pixels of the page. */
export async function partOf(
  { bytes, width }: ScreenShot,
  { x, y, w, h }: { x: number; y: number; w: number; h: number },
): Promise<string> {
  const scale = (await sharp(bytes).metadata()).width / width
  const [left, top, across, down] = [x, y, w, h].map((value) => Math.round(value * scale))
  const part = sharp(bytes).extract({ left: left!, top: top!, width: across!, height: down! })
  return (await part.png().toBuffer()).toString('base64')
}

/** Where two pictures of one size differ, in their own pixels; undefined where they do nowhere. */
export async function differingPart(
  one: Uint8Array,
  other: Uint8Array,
): Promise<{ x: number; y: number; w: number; h: number } | undefined> {
  const [a, b] = await Promise.all([one, other].map((bytes) => sharp(bytes).greyscale().raw().toBuffer()))
  const { width } = await sharp(one).metadata()
  if (a!.length !== b!.length) throw new Error('The pictures have two sizes')
  let [left, top, right, bottom] = [Infinity, Infinity, -1, -1]
  a!.forEach((grey, at) => {
    if (grey === b![at]) return
    const [x, y] = [at % width, Math.floor(at / width)]
    ;[left, right] = [Math.min(left, x), Math.max(right, x)]
    ;[top, bottom] = [Math.min(top, y), Math.max(bottom, y)]
  })
  return right < 0 ? undefined : { x: left, y: top, w: right - left + 1, h: bottom - top + 1 }
}

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

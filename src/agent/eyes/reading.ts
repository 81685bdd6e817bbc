import sharp from 'sharp'
import { decodePicture } from '@/node/decode'
import { readWords } from '@/node/read-words'
import { difference, find, type Box } from '@/core/vision'
import type { ComparedPicture, Comparing, Looking, PatchesSeen, WordsSeen } from '../driver/eyes'

/** A compressed picture is not what was on the screen: by so many steps of 255, next to what changed. */
const LOSSY_STEPS = 20

/** Looks at a picture. @throws it is none */
export function look(looking: Looking): Promise<unknown> {
  if (looking.do === 'read') return readPicture(looking.picture)
  return looking.do === 'find'
    ? findPatch(looking.picture, looking.patch)
    : compare(looking.picture, looking.how)
}

/** Takes half a second of a processor by itself, and as much of another program. */
async function readPicture(picture: Uint8Array): Promise<WordsSeen> {
  const pixels = await decodePicture(picture)
  return { words: await readWords(pixels), width: pixels.width }
}

/** Takes a second of a processor. */
async function findPatch(picture: Uint8Array, patch: Uint8Array): Promise<PatchesSeen> {
  const [screen, wanted] = [await decodePicture(picture), await decodePicture(patch)]
  return { places: find(screen, wanted), width: screen.width }
}

/** Takes a fifth of a second of a processor. */
async function compare(
  picture: Uint8Array,
  { pageWidth, part, ignore, accepted, isLossy }: Comparing,
): Promise<ComparedPicture> {
  const { width } = await sharp(picture).metadata()
  const scale = width / pageWidth
  const png = part ? await partOf(picture, scaled(part, scale)) : await sharp(picture).png().toBuffer()
  const pixels = await decodePicture(png)
  const from = part ?? { x: 0, y: 0 }
  const boxes = ignore.map(({ x, y, w, h }) => scaled({ x: x - from.x, y: y - from.y, w, h }, scale))
  const facts = { png: new Uint8Array(png), width: pixels.width, height: pixels.height, ignore: boxes }
  if (!accepted) return facts
  const all = [...boxes, ...accepted.ignore]
  return {
    ...facts,
    ignore: all,
    difference: difference(await decodePicture(accepted.png), pixels, {
      ignore: all,
      ...(isLossy && { steps: LOSSY_STEPS }),
    }),
  }
}

/** All of it that is on the picture. */
async function partOf(picture: Uint8Array, { x, y, w, h }: Box): Promise<Buffer> {
  const { width, height } = await sharp(picture).metadata()
  const [left, top] = [Math.max(0, x), Math.max(0, y)]
  const [right, bottom] = [Math.min(width, x + w), Math.min(height, y + h)]
  if (right <= left || bottom <= top) throw new Error('what is compared is not on the screen')
  return sharp(picture)
    .extract({ left, top, width: right - left, height: bottom - top })
    .png()
    .toBuffer()
}

const scaled = ({ x, y, w, h }: Box, by: number): Box => {
  const [left, top] = [Math.floor(x * by), Math.floor(y * by)]
  return { x: left, y: top, w: Math.ceil((x + w) * by) - left, h: Math.ceil((y + h) * by) - top }
}

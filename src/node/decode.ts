/** Decodes pictures from outside: bounded in bytes and pixels. */
import sharp from 'sharp'
import type { Pixels } from '@/core/vision'

const BYTES_MOST = 64_000_000
/** A screen of 8K has 33 million. */
const PIXELS_MOST = 40_000_000

/** Why a picture was not decoded, for people. */
export class PictureRefused extends Error {}

/** PNG, JPEG or WebP as pixels, four bytes each. @param pixelsMost of a larger one nothing is decoded
 * @throws {PictureRefused} */
export async function decodePicture(bytes: Uint8Array, pixelsMost = PIXELS_MOST): Promise<Pixels> {
  if (bytes.length > BYTES_MOST)
    throw new PictureRefused(`it has more than ${BYTES_MOST / 1_000_000} million bytes`)
  if (bytes.length === 0) throw new PictureRefused('it is empty')
  const picture = sharp(bytes, { limitInputPixels: false, failOn: 'error', pages: 1 })
  const facts = await picture.metadata().catch(() => undefined)
  if (!facts || !['png', 'jpeg', 'webp'].includes(facts.format))
    throw new PictureRefused('it is no PNG, JPEG or WebP picture')
  if (facts.width * facts.height > pixelsMost)
    throw new PictureRefused(
      `it has ${facts.width} x ${facts.height} pixels; at most ${pixelsMost / 1_000_000} million are ` +
        'compared',
    )
  const decoded = await picture
    .toColourspace('srgb')
    .ensureAlpha()
    .raw()
    .toBuffer({ resolveWithObject: true })
    .catch(() => undefined)
  if (!decoded) throw new PictureRefused('it is broken, or cut off')
  const { data, info } = decoded
  return { width: info.width, height: info.height, data: new Uint8Array(data) }
}

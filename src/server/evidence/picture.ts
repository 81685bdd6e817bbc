/** Pictures that people bring: decoded and made anew, so that only their pixels are kept. */
import sharp from 'sharp'
import { decodePicture, PictureRefused } from '@/node/decode'
import type { Context } from '../context'
import { Problem } from '../http/problems'
import { Gate } from '../work'
import { keepEvidence } from './keep'
import { hashOf } from './store'

/** A screen of 4K, full of colour. */
export const PICTURE_BYTES_MOST = 12_000_000
const PIXELS_MOST = 10_000_000
/** Decoded, a screen of 4K takes 40 MB. */
const decoding = new Gate(2, 20)

/** Keeps a picture as evidence, as PNG. @param what it is, for whoever is told that it is none
 * @throws {Problem} BODY_INVALID: it is no picture, or too large; BUSY; STORE_FULL, STORE_AWAY */
export async function keepPicture(
  ctx: Context,
  bytes: Buffer,
  what: string,
): Promise<{ hash: string; width: number; height: number }> {
  const { png, width, height } = await decoding.through(() => madeAnew(bytes, what))
  const hash = hashOf(png)
  await keepEvidence(ctx, hash, 'image/png', png)
  return { hash, width, height }
}

async function madeAnew(
  bytes: Buffer,
  what: string,
): Promise<{ png: Buffer; width: number; height: number }> {
  const { width, height, data } = await decodePicture(bytes, PIXELS_MOST).catch((error: unknown) => {
    throw error instanceof PictureRefused
      ? new Problem('BODY_INVALID', `${what} cannot be kept: ${error.message}.`)
      : error
  })
  const png = await sharp(data, { raw: { width, height, channels: 4 } })
    .removeAlpha()
    .png()
    .toBuffer()
  return { png, width, height }
}

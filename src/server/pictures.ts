/** Parts of screens that targets of cases are looked for by. */
import sharp from 'sharp'
import { note } from '@/db/audit'
import { notify } from '@/db/notify'
import { dropPicture, pictureBytes, putPicture } from '@/db/pictures'
import { decodePicture, PictureRefused } from '@/node/decode'
import type { Context } from './context'
import { enqueueReadingAll } from './definitions'
import { pieceOf } from './evidence'
import { Problem } from './http/problems'
import { validator, type BodyOf } from './http/validator'
import { Gate } from './work'

const NAME = /^[A-Za-z0-9][A-Za-z0-9._-]{0,59}$/
/** An agent is given those of its case with its work. */
const BYTES_MOST = 400_000
/** A part of a screen, and not the whole of a large one. */
const PIXELS_MOST = 1_000_000
/** Pixels of a screen that one is cut out of. */
const SCREEN_PIXELS_MOST = 10_000_000
/** Less than this is like too many things to be found. */
const SIDE_LEAST = 8
const decoding = new Gate(2, 20)

const pixels = { type: 'integer', minimum: 0, maximum: 20_000 } as const
/** Bytes of a PNG, JPEG or WebP; or a part of a screen that is kept. */
export const pictureBody = validator({
  type: 'object',
  additionalProperties: false,
  properties: {
    bytes: { type: 'string', maxLength: 4 * Math.ceil(BYTES_MOST / 3) },
    screen: { type: 'string', pattern: '^[0-9a-f]{64}$' },
    box: {
      type: 'object',
      additionalProperties: false,
      required: ['x', 'y', 'w', 'h'],
      properties: { x: pixels, y: pixels, w: pixels, h: pixels },
    },
  },
})
export type PictureRequest = BodyOf<typeof pictureBody>

/** Keeps it under this name, instead of what had it. @throws {Problem} BODY_INVALID with what is wrong with
 * it; NOT_FOUND: the screen is not kept any more */
export async function setPicture(
  ctx: Context,
  name: string,
  request: PictureRequest,
  who: string,
): Promise<void> {
  if (!NAME.test(name))
    throw new Problem(
      'BODY_INVALID',
      'The name of a picture is letters, digits, points, dashes and _, 60 at most, beginning with a ' +
        'letter or digit.',
    )
  const made = await decoding.through(() => madeOf(ctx, request))
  await ctx.db.transaction(async (tx) => {
    await putPicture(tx, { name, ...made, setBy: who })
    await note(tx, who, 'picture.set', name, { width: made.width, height: made.height })
    await enqueueReadingAll(tx)
  })
  await notify(ctx.db, 'settings')
}

/** @throws {Problem} NOT_FOUND */
export async function removePicture(ctx: Context, name: string, who: string): Promise<void> {
  await ctx.db.transaction(async (tx) => {
    if (!(await dropPicture(tx, name))) throw new Problem('NOT_FOUND', `There is no picture “${name}”.`)
    await note(tx, who, 'picture.remove', name)
    await enqueueReadingAll(tx)
  })
  await notify(ctx.db, 'settings')
}

/** @throws {Problem} NOT_FOUND */
export async function servePicture(ctx: Context, name: string): Promise<Response> {
  const [found] = await pictureBytes(ctx.db, [name])
  if (!found) throw new Problem('NOT_FOUND', `There is no picture “${name}”.`)
  return new Response(new Uint8Array(found.bytes), {
    headers: {
      'content-type': 'image/png',
      'x-content-type-options': 'nosniff',
      'cache-control': 'private, no-cache',
    },
  })
}

async function madeOf(ctx: Context, { bytes, screen, box }: PictureRequest) {
  const source = screen === undefined ? Buffer.from(bytes ?? '', 'base64') : await screenOf(ctx, screen)
  const { width, height, data } = await decodePicture(
    source,
    screen === undefined ? PIXELS_MOST : SCREEN_PIXELS_MOST,
  ).catch((error: unknown) => {
    throw error instanceof PictureRefused
      ? new Problem('BODY_INVALID', `This is no picture that can be kept: ${error.message}.`)
      : error
  })
  const part = box ?? { x: 0, y: 0, w: width, h: height }
  if (part.x + part.w > width || part.y + part.h > height)
    throw new Problem(
      'BODY_INVALID',
      `The part reaches out of the screen, which has ${width} x ${height} pixels.`,
    )
  if (part.w < SIDE_LEAST || part.h < SIDE_LEAST)
    throw new Problem(
      'BODY_INVALID',
      `A picture has at least ${SIDE_LEAST} x ${SIDE_LEAST} pixels: a smaller one is like too many things.`,
    )
  if (part.w * part.h > PIXELS_MOST)
    throw new Problem('BODY_INVALID', `A picture has at most ${PIXELS_MOST / 1_000_000} million pixels.`)
  const png = await sharp(data, { raw: { width, height, channels: 4 } })
    .extract({ left: part.x, top: part.y, width: part.w, height: part.h })
    .png()
    .toBuffer()
  if (png.length > BYTES_MOST)
    throw new Problem(
      'BODY_INVALID',
      `A picture has at most ${BYTES_MOST / 1000} KB as PNG; this has ${Math.ceil(png.length / 1000)}.`,
    )
  return { bytes: png, width: part.w, height: part.h }
}

async function screenOf(ctx: Context, hash: string): Promise<Buffer> {
  const piece = await pieceOf(ctx, hash)
  if (!piece) throw new Problem('NOT_FOUND', 'This screen is not kept any more.')
  return piece.bytes
}

/** Screens that people mark up: new evidence beside the original, which stays as it is. */
import { note as noteInAudit } from '@/db/audit'
import { addMarked, countMarked, dropMarkedScreen, showsPiece } from '@/db/marked-screens'
import { notify } from '@/db/notify'
import { attemptRow } from '@/db/runs'
import type { Context } from '../context'
import { Problem } from '../http/problems'
import { validator, type BodyOf } from '../http/validator'
import { keepPicture, PICTURE_BYTES_MOST } from './picture'

const MARKED_MOST = 50

/** Bytes of the marked picture, PNG in base64; which screen it was made of, and the line that shows it. */
export const markedBody = validator({
  type: 'object',
  additionalProperties: false,
  required: ['path', 'original', 'bytes', 'note'],
  properties: {
    path: { type: 'string', minLength: 1, maxLength: 500 },
    original: { type: 'string', pattern: '^[0-9a-f]{64}$' },
    bytes: { type: 'string', maxLength: 4 * Math.ceil(PICTURE_BYTES_MOST / 3) },
    note: { type: 'string', maxLength: 300 },
  },
})
export type MarkedRequest = BodyOf<typeof markedBody>
/** Bytes of such a body at the most. */
export const MARKED_BODY_BYTES = 4 * Math.ceil(PICTURE_BYTES_MOST / 3) + 2_000

/** Keeps a marked screen. What is kept is made anew from its pixels: whatever else the file held is gone.
 * @throws {Problem} NOT_FOUND; BODY_INVALID: not a screen of this attempt, no picture, or too many; BUSY */
export async function markScreen(
  ctx: Context,
  attemptId: string,
  { path, original, bytes, note }: MarkedRequest,
  who: string,
): Promise<{ id: string; hash: string }> {
  if (!(await attemptRow(ctx.db, attemptId))) throw new Problem('NOT_FOUND', 'There is no such attempt.')
  if (!(await showsPiece(ctx.db, attemptId, original)))
    throw new Problem('BODY_INVALID', 'The screen that was marked is none of this attempt.')
  if ((await countMarked(ctx.db, attemptId)) >= MARKED_MOST)
    throw new Problem(
      'BODY_INVALID',
      `An attempt has at most ${MARKED_MOST} marked screens: delete one first.`,
    )
  const { hash, width, height } = await keepPicture(ctx, Buffer.from(bytes, 'base64'), 'The marked screen')
  const id = await ctx.db.transaction(async (tx) => {
    const made = await addMarked(tx, { attemptId, path, original, hash, width, height, note, markedBy: who })
    await noteInAudit(tx, who, 'screen.mark', attemptId, { id: made, original, hash })
    return made
  })
  await notify(ctx.db, 'attempt', attemptId)
  return { id, hash }
}

/** @throws {Problem} NOT_FOUND */
export async function unmarkScreen(ctx: Context, attemptId: string, id: string, who: string): Promise<void> {
  await ctx.db.transaction(async (tx) => {
    if (!(await dropMarkedScreen(tx, attemptId, id)))
      throw new Problem('NOT_FOUND', 'There is no such marked screen, or not any more.')
    await noteInAudit(tx, who, 'screen.unmark', attemptId, { id })
  })
  await notify(ctx.db, 'attempt', attemptId)
}

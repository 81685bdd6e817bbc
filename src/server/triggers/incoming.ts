/** Starting a rotation by a signed message of another program. */
import { dropOldMessages as drop, takeMessage } from '@/db/hooks'
import { note } from '@/db/audit'
import { putSetting, setting } from '@/db/settings'
import type { Context } from '../context'
import { loadLibrary } from '../definitions'
import { Problem } from '../http/problems'
import { newWebhookSecret, requireSigned, type SignedHeaders } from '../http/signed'
import { openColumn, sealColumn } from '../sealing'
import { rotationStartBody, startRotation } from '../rota'

/** A message is refused for its age long before it is forgotten. */
export const dropOldMessages = (ctx: Pick<Context, 'db'>): Promise<void> => drop(ctx.db)

const nameOf = (rotation: string) => `webhook of ${rotation}`

/** A new secret for messages that start this rotation; an older one is worth nothing any more. @throws
 * {Problem} NOT_FOUND */
export async function makeTrigger(ctx: Context, rotation: string, who: string): Promise<string> {
  if (!(await loadLibrary(ctx)).rotations.has(rotation))
    throw new Problem('NOT_FOUND', `There is no rotation “${rotation}”.`)
  const secret = newWebhookSecret()
  await ctx.db.transaction(async (tx) => {
    await putSetting(tx, nameOf(rotation), sealColumn(secret))
    await note(tx, who, 'trigger.make', rotation)
  })
  return secret
}

async function secretOf(ctx: Context, rotation: string): Promise<string | undefined> {
  const stored = await setting<string>(ctx.db, nameOf(rotation))
  return stored === undefined ? undefined : openColumn(stored)
}

/** The same message a second time starts nothing.
 * @returns the run, or `undefined` when the message was taken before
 * @throws {Problem} SIGNATURE_WRONG, BODY_INVALID, and as starting a run does */
export async function takeTrigger(
  ctx: Context,
  rotation: string,
  body: string,
  headers: SignedHeaders,
  nowMs: number,
): Promise<number | undefined> {
  const id = requireSigned(await secretOf(ctx, rotation), body, headers, nowMs)
  let given: unknown
  try {
    given = body.trim() === '' ? {} : JSON.parse(body)
  } catch {
    throw new Problem('BODY_INVALID', 'The body is not JSON.')
  }
  if (!rotationStartBody(given))
    throw new Problem(
      'BODY_INVALID',
      'The body may say build and with, and nothing else.',
      rotationStartBody.errors,
    )
  if (!(await takeMessage(ctx.db, `${rotation} ${id}`))) return undefined
  return startRotation(ctx, rotation, given, 'a signed message')
}

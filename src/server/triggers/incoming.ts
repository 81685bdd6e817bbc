/** Signed messages of other programs: they start a rotation, or name a build. */
import { dropOldMessages as drop, takeMessage } from '@/db/hooks'
import { note } from '@/db/audit'
import { putSetting, setting } from '@/db/settings'
import type { Context } from '../context'
import { loadLibrary } from '../definitions'
import { Problem } from '../http/problems'
import { newWebhookSecret, requireSigned, type SignedHeaders } from '../http/signed'
import { openColumn, sealColumn } from '../sealing'
import { addBuild, buildBody } from '../builds'
import { rotationStartBody, startRotation } from '../rota'

/** A message is refused for its age long before it is forgotten. */
export const dropOldMessages = (ctx: Pick<Context, 'db'>): Promise<void> => drop(ctx.db)

const nameOf = (rotation: string) => `webhook of ${rotation}`

/** A new secret for messages that start this rotation; an older one is worth nothing any more. @throws
 * {Problem} NOT_FOUND */
export async function makeTrigger(ctx: Context, rotation: string, who: string): Promise<string> {
  if (!(await loadLibrary(ctx)).rotations.has(rotation))
    throw new Problem('NOT_FOUND', `There is no rotation “${rotation}”.`)
  return makeSecret(ctx, rotation, who)
}

/** No rotation has such a key. */
const BUILDS = ':builds'
/** A new secret for messages that name builds; an older one is worth nothing any more. */
export const makeBuildsTrigger = (ctx: Context, who: string): Promise<string> => makeSecret(ctx, BUILDS, who)

async function makeSecret(ctx: Context, of: string, who: string): Promise<string> {
  const secret = newWebhookSecret()
  await ctx.db.transaction(async (tx) => {
    await putSetting(tx, nameOf(of), sealColumn(secret))
    await note(tx, who, 'trigger.make', of)
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
  const given = body.trim() === '' ? {} : readJsonText(body)
  if (!rotationStartBody(given))
    throw new Problem(
      'BODY_INVALID',
      'The body may say build, stage, with and despite, and nothing else.',
      rotationStartBody.errors,
    )
  if (!(await takeMessage(ctx.db, `${rotation} ${id}`))) return undefined
  return startRotation(ctx, rotation, given, 'a signed message')
}

/** Adds the build that a message names; the same message a second time changes nothing.
 * @throws {Problem} SIGNATURE_WRONG, BODY_INVALID */
export async function takeBuild(
  ctx: Context,
  body: string,
  headers: SignedHeaders,
  nowMs: number,
): Promise<void> {
  const id = requireSigned(await secretOf(ctx, BUILDS), body, headers, nowMs)
  const given = readJsonText(body)
  if (!buildBody(given))
    throw new Problem(
      'BODY_INVALID',
      'The body says the label of a build, and nothing else.',
      buildBody.errors,
    )
  if (await takeMessage(ctx.db, `${BUILDS} ${id}`)) await addBuild(ctx, given.label, 'a signed message')
}

/** @throws {Problem} BODY_INVALID */
function readJsonText(body: string): unknown {
  try {
    return JSON.parse(body)
  } catch {
    throw new Problem('BODY_INVALID', 'The body is not JSON.')
  }
}

/** Accepting what a check of a screen saw, so that the next run compares with it. */
import sharp from 'sharp'
import { differAlike, type Box } from '@/core/execution'
import { ACCEPTED_CHECKS, type AcceptedLine, type AcceptedNow } from '@/core/view-models'
import {
  acceptedBefore,
  acceptedRow,
  addAccepted,
  endAccepted,
  lockAccepted,
  screenChecksOfAttempt,
  screenChecksOfRun,
  type AcceptedPlace,
  type AcceptedRow,
  type ScreenCheckRow,
} from '@/db/accepted-screens'
import { note } from '@/db/audit'
import type { Tx } from '@/db/client'
import type { Pixels } from '@/core/vision'
import { decodePicture, PictureRefused } from '@/node/decode'
import type { Context } from '../context'
import { keepEvidence, pieceOf } from '../evidence'
import { hashOf } from '../evidence/store'
import { Problem } from '../http/problems'
import { validator, type BodyOf } from '../http/validator'
import { Gate } from '../work'

const BOXES_MOST = 50
const HISTORY_MOST = 50
/** A screen of 4K has 8.3 million: decoded, two take 80 MB, so few are put together at once. */
const PIXELS_MOST = 10_000_000
const composing = new Gate(2, 20)
const pixels = { type: 'integer', minimum: 0, maximum: 100_000 } as const
const box = {
  type: 'object',
  additionalProperties: false,
  required: ['x', 'y', 'w', 'h'],
  properties: { x: pixels, y: pixels, w: pixels, h: pixels },
} as const
const boxes = { type: 'array', items: box, maxItems: BOXES_MOST } as const
const most = { type: 'number', minimum: 0, maximum: 1 } as const

/** `region`: only this part of what was seen, over what was accepted before. */
export const acceptBody = validator({
  type: 'object',
  additionalProperties: false,
  required: ['attemptId', 'path', 'which'],
  properties: {
    attemptId: { type: 'string', pattern: '^[0-9a-f-]{36}$' },
    path: { type: 'string', minLength: 1, maxLength: 500 },
    which: { enum: [...ACCEPTED_CHECKS] },
    region: box,
  },
})
/** `ignore`: what is not looked at; `most`: share of the picture that may differ. */
export const changeAcceptedBody = validator({
  type: 'object',
  additionalProperties: false,
  properties: { ignore: boxes, most },
})

/** @returns what holds now, for each check
 * @throws {Problem} NOT_FOUND; BODY_INVALID: the part is not on both pictures */
export async function acceptScreens(
  ctx: Context,
  { attemptId, path, which, region }: BodyOf<typeof acceptBody>,
  who: string,
): Promise<AcceptedNow[]> {
  const one = (await screenChecksOfAttempt(ctx.db, attemptId)).find((check) => check.path === path)
  if (!one) throw new Problem('NOT_FOUND', 'There is no such check of a screen.')
  const checks =
    which === 'one'
      ? [one]
      : (await screenChecksOfRun(ctx.db, one.runId)).filter(({ check }) => differAlike(check, one.check))
  const pictures: Picture[] = []
  for (const row of checks) pictures.push(await pictureFor(ctx, row, region)) // one at a time in memory
  return ctx.db.transaction(async (tx) => {
    const accepted: AcceptedNow[] = []
    for (const [i, row] of checks.entries()) accepted.push(await put(tx, row, pictures[i]!, who))
    await note(tx, who, 'screen.accept', one.check.name, {
      cases: [...new Set(checks.map(({ caseKey }) => caseKey))].slice(0, BOXES_MOST),
      environments: [...new Set(checks.map(({ environment }) => environment))].slice(0, BOXES_MOST),
      ...(region && { region }),
    })
    return accepted
  })
}

const placeOf = ({ caseKey, environment, check: { name } }: ScreenCheckRow): AcceptedPlace => ({
  caseKey,
  environment,
  name,
})

async function put(tx: Tx, row: ScreenCheckRow, picture: Picture, who: string): Promise<AcceptedNow> {
  const place = placeOf(row)
  const before = await lockAccepted(tx, place)
  await endAccepted(tx, place)
  const id = await addAccepted(tx, {
    ...place,
    ...picture,
    acceptedBy: who,
    ignore: before?.ignore ?? [],
    most: before?.most ?? 0,
  })
  return { id, ...place, before: before?.id ?? null }
}

type Picture = Pick<AcceptedRow, 'hash' | 'width' | 'height'>

async function pictureFor(ctx: Context, { check }: ScreenCheckRow, region?: Box): Promise<Picture> {
  const { hash, width, height } = check
  const now = await piece(ctx, hash)
  if (!region) {
    await keepEvidence(ctx, hash, 'image/png', now) // it may be about to be deleted as unused
    return { hash, width, height }
  }
  if (check.accepted === undefined)
    throw new Problem('BODY_INVALID', 'A part is put over what was accepted before, and there is nothing.')
  const { x, y, w, h } = region
  if (w === 0 || h === 0 || x + w > width || y + h > height)
    throw new Problem(
      'BODY_INVALID',
      `The part is not on the picture, which has ${width} x ${height} pixels.`,
    )
  const made = await composing.through(async () =>
    composed(await pixelsOf(await piece(ctx, check.accepted!)), await pixelsOf(now), region),
  )
  await keepEvidence(ctx, hashOf(made.png), 'image/png', made.png)
  return { hash: hashOf(made.png), width: made.width, height: made.height }
}

/** The first picture with a part of the second in its place. @throws {Problem} BODY_INVALID */
async function composed(before: Pixels, now: Pixels, { x, y, w, h }: Box) {
  const reach = Math.min(before.width, now.width) < x + w || Math.min(before.height, now.height) < y + h
  if (reach) throw new Problem('BODY_INVALID', 'The part is not on the picture that was accepted before.')
  const raw = ({ width, height, data }: Pixels) => sharp(data, { raw: { width, height, channels: 4 } })
  const part = await raw(now).extract({ left: x, top: y, width: w, height: h }).png().toBuffer()
  const png = await raw(before)
    .composite([{ input: part, left: x, top: y }])
    .png()
    .toBuffer()
  return { png, width: before.width, height: before.height }
}

/** @throws {Problem} BODY_INVALID: it is no picture, or too large a one */
const pixelsOf = (bytes: Buffer): Promise<Pixels> =>
  decodePicture(bytes, PIXELS_MOST).catch((error: unknown) => {
    throw error instanceof PictureRefused
      ? new Problem('BODY_INVALID', `The part cannot be accepted: ${error.message}.`)
      : error
  })

async function piece(ctx: Context, hash: string): Promise<Buffer> {
  const found = await pieceOf(ctx, hash)
  if (!found) throw new Problem('NOT_FOUND', 'This screen is not kept any more.')
  return found.bytes
}

/** What holds for a check, and what did before, newest first. */
export async function acceptedHistory(ctx: Context, place: AcceptedPlace): Promise<AcceptedLine[]> {
  return (await acceptedBefore(ctx.db, place, HISTORY_MOST)).map(
    ({ id, hash, width, height, ignore, most: share, acceptedBy, acceptedAt, endedAt }) => ({
      id,
      hash,
      width,
      height,
      ignore,
      most: share,
      acceptedBy,
      acceptedAt: acceptedAt.toISOString(),
      holds: endedAt === null,
    }),
  )
}

/** Makes one of before hold again, or the one that holds with other boxes or another share: each is a line of
 * the history. @throws {Problem} NOT_FOUND */
export async function acceptAgain(
  ctx: Context,
  id: number,
  change: BodyOf<typeof changeAcceptedBody>,
  who: string,
): Promise<AcceptedNow> {
  return ctx.db.transaction(async (tx) => {
    const row = await acceptedRow(tx, id)
    if (!row) throw new Problem('NOT_FOUND', 'There is no such accepted screen.')
    const { caseKey, name, environment, hash, width, height, ignore, most: share } = row
    const place = { caseKey, name, environment }
    const before = await lockAccepted(tx, place)
    await endAccepted(tx, place)
    const made = await addAccepted(tx, {
      ...place,
      hash,
      width,
      height,
      ignore: change.ignore ?? ignore,
      most: change.most ?? share,
      acceptedBy: who,
    })
    await note(tx, who, before?.id === id ? 'screen.change' : 'screen.back', name, { caseKey, environment })
    return { id: made, ...place, before: before?.id ?? null }
  })
}

/** Ends the one that holds: the next attempt proposes again. @throws {Problem} NOT_FOUND */
export async function endAcceptedScreen(ctx: Context, id: number, who: string): Promise<void> {
  await ctx.db.transaction(async (tx) => {
    const row = await acceptedRow(tx, id)
    if (!row || !(await endAccepted(tx, row)))
      throw new Problem('NOT_FOUND', 'There is no such accepted screen that holds.')
    await note(tx, who, 'screen.end', row.name, { caseKey: row.caseKey, environment: row.environment })
  })
}

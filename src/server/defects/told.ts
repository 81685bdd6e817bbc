/** The tracker tells by itself where a defect stands, in a signed message. */
import { stateFrom } from '@/core/tracker'
import { storable } from '@/core/model'
import { note } from '@/db/audit'
import { defectsOfNumber, noteTrackerState } from '@/db/defects'
import { notify } from '@/db/notify'
import { putSetting, setting } from '@/db/settings'
import type { Context } from '../context'
import { newWebhookSecret, requireSigned, type SignedHeaders } from '../http/signed'
import { requireValid } from '../http/require-valid'
import { validator } from '../http/validator'
import { openColumn, sealColumn } from '../sealing'
import { trackerMapping } from './mapping'

const NAME = 'tracker-hook'

const toldBody = validator({
  type: 'object',
  required: ['number', 'state'],
  properties: {
    number: { type: 'string', minLength: 1, maxLength: 100 },
    state: { type: 'string', minLength: 1, maxLength: 100 },
  },
})

/** Makes a secret that the tracker signs with; one from before ends. @returns it, this once */
export async function newTrackerSecret(ctx: Context, who: string): Promise<string> {
  const secret = newWebhookSecret()
  await ctx.db.transaction(async (tx) => {
    await putSetting(tx, NAME, { secret: sealColumn(secret) })
    await note(tx, who, 'tracker.secret', NAME)
  })
  return secret
}

/** Takes a message of the tracker. A number that is not known here changes nothing.
 * @throws {Problem} SIGNATURE_WRONG; BODY_INVALID */
export async function takeTrackerMessage(
  ctx: Context,
  { body, headers }: { body: string; headers: SignedHeaders },
  nowMs: number,
): Promise<void> {
  const kept = await setting<{ secret: string }>(ctx.db, NAME)
  requireSigned(kept && openColumn(kept.secret), body, headers, nowMs)
  const { number, state } = requireValid(parsed(body), toldBody)
  const word = stateFrom(storable(state), await trackerMapping(ctx))
  for (const { id } of await defectsOfNumber(ctx.db, number)) {
    await noteTrackerState(ctx.db, id, ctx.now, word)
    await notify(ctx.db, 'defects', id)
  }
}

function parsed(text: string): unknown {
  try {
    return JSON.parse(text)
  } catch {
    return undefined // told by the schema
  }
}

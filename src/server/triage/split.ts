/** A part of a cause is a cause of its own from now on, and for what comes later; and put back again. */
import { SPLIT_BY, splitSignature, splitWords } from '@/core/triage'
import { note } from '@/db/audit'
import { notify } from '@/db/notify'
import { addSplit, failuresKept, splitsNow, takeBackSplit } from '@/db/splits'
import type { Context } from '../context'
import { Problem } from '../http/problems'
import { validator, type BodyOf } from '../http/validator'
import { keepCauses } from './keep'

const SPLITS_MOST = 500
const TEXT = { type: 'string', minLength: 1, maxLength: 200 } as const

/** `value`: what it is told by; `label`: the same as people call it. */
export const splitBody = validator({
  type: 'object',
  additionalProperties: false,
  required: ['signature', 'title', 'by', 'value', 'label'],
  properties: {
    signature: { type: 'string', minLength: 1, maxLength: 400 },
    title: { type: 'string', maxLength: 400 },
    by: { enum: SPLIT_BY },
    value: TEXT,
    label: TEXT,
  },
})

/** @returns the rule's id, and how many failures of the runs that were looked at are of the part
 * @throws {Problem} BODY_INVALID: it is apart already, or there are too many rules */
export async function setApart(
  ctx: Context,
  { signature, title, by, value, label }: BodyOf<typeof splitBody>,
  person: string,
): Promise<{ id: number; signature: string; failures: number }> {
  const words = splitWords(by, label)
  const id = await ctx.db.transaction(async (tx) => {
    if ((await splitsNow(tx)).length >= SPLITS_MOST)
      throw new Problem('BODY_INVALID', `There are ${SPLITS_MOST} such rules: put some back first.`)
    const added = await addSplit(tx, { signature, title, by, value, words, splitBy: person })
    if (added === undefined) throw new Problem('BODY_INVALID', 'That part is apart already.')
    await note(tx, person, 'triage.set-apart', title.slice(0, 200), { part: words })
    await notify(tx, 'triage')
    return added
  })
  await keepCauses(ctx) // the newest runs at once; the worker does the others
  const own = splitSignature({ id, signature })
  return { id, signature: own, failures: await failuresKept(ctx.db, own) }
}

/** @throws {Problem} NOT_FOUND: there is no such rule, or it was taken back already */
export async function putBack(ctx: Context, id: number, person: string): Promise<void> {
  await ctx.db.transaction(async (tx) => {
    const row = await takeBackSplit(tx, ctx.now, id, person)
    if (!row) throw new Problem('NOT_FOUND', 'That part is not apart any more.')
    await note(tx, person, 'triage.put-back', row.title.slice(0, 200), { part: row.words })
    await notify(tx, 'triage')
  })
  await keepCauses(ctx)
}

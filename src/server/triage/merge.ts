/** Two causes are taken for one, from now on and for what comes later; and taken apart again. */
import { standsAs } from '@/core/triage'
import { note } from '@/db/audit'
import { addMerge, lockMerges, mergesNow, takeBackMerge } from '@/db/merges'
import { notify } from '@/db/notify'
import type { Context } from '../context'
import { Problem } from '../http/problems'
import { validator, type BodyOf } from '../http/validator'
import { keepCauses } from './keep'
import { mergesOf } from './run-causes'

const MERGES_MOST = 2000
const SIGNATURE = { type: 'string', minLength: 1, maxLength: 400 } as const
const TITLE = { type: 'string', maxLength: 400 } as const

export const mergeBody = validator({
  type: 'object',
  additionalProperties: false,
  required: ['signature', 'title', 'into', 'intoTitle'],
  properties: { signature: SIGNATURE, title: TITLE, into: SIGNATURE, intoTitle: TITLE },
})

/** @returns the rule's id
 * @throws {Problem} BODY_INVALID: they are one already, or there are too many rules */
export async function mergeCauses(
  ctx: Context,
  { signature, title, into, intoTitle }: BodyOf<typeof mergeBody>,
  person: string,
): Promise<number> {
  const id = await ctx.db.transaction(async (tx) => {
    await lockMerges(tx)
    const rows = await mergesNow(tx)
    const merges = mergesOf(rows)
    const own = standsAs(signature, merges)
    if (own === standsAs(into, merges)) throw new Problem('BODY_INVALID', 'These are one cause already.')
    if (rows.length >= MERGES_MOST)
      throw new Problem('BODY_INVALID', `There are ${MERGES_MOST} such rules: take some back first.`)
    const row = { signature: own, title, into: standsAs(into, merges), intoTitle, mergedBy: person }
    const added = await addMerge(tx, row)
    await note(tx, person, 'triage.merge', title.slice(0, 200), { into: intoTitle.slice(0, 200) })
    await notify(tx, 'triage')
    return added
  })
  await keepCauses(ctx) // the newest runs at once; the worker does the others
  return id
}

/** @throws {Problem} NOT_FOUND: there is none, or it was taken back already */
export async function takeApart(ctx: Context, id: number, person: string): Promise<void> {
  await ctx.db.transaction(async (tx) => {
    const row = await takeBackMerge(tx, ctx.now, id, person)
    if (!row) throw new Problem('NOT_FOUND', 'These causes are apart already.')
    await note(tx, person, 'triage.take-apart', row.title.slice(0, 200), {
      from: row.intoTitle.slice(0, 200),
    })
    await notify(tx, 'triage')
  })
  await keepCauses(ctx)
}

/** Giving a cause to somebody, who is to decide it. */
import { note as noteDown } from '@/db/audit'
import { addHandover } from '@/db/handovers'
import { namesOfTesters } from '@/db/members'
import { notify } from '@/db/notify'
import type { Context } from '../context'
import { Problem } from '../http/problems'
import { validator, type BodyOf } from '../http/validator'

export const handOverBody = validator({
  type: 'object',
  additionalProperties: false,
  required: ['signature', 'person', 'note'],
  properties: {
    signature: { type: 'string', minLength: 1, maxLength: 400 },
    /** Empty: nobody's. */
    person: { type: 'string', maxLength: 120 },
    note: { type: 'string', maxLength: 1000 },
  },
})

/** @throws {Problem} BODY_INVALID: who may decide nothing; then nothing was changed */
export async function handOver(
  ctx: Pick<Context, 'db'>,
  { signature, person, note }: BodyOf<typeof handOverBody>,
  who: string,
): Promise<void> {
  if (person !== '' && !(await namesOfTesters(ctx.db)).includes(person))
    throw new Problem('BODY_INVALID', `${person} is nobody who may decide causes here.`)
  await ctx.db.transaction(async (tx) => {
    await addHandover(tx, { signature, person, note: note.trim(), givenBy: who })
    await noteDown(tx, who, 'triage.hand-over', signature.slice(0, 200), { to: person })
    await notify(tx, 'triage')
  })
}

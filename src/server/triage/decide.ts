/** What people decide of causes: once for all failures of each, in the audit trail, and taken back. */
import { DECISIONS, type DecisionKind } from '@/core/triage'
import { note } from '@/db/audit'
import { addDecisions, decisionsOf, lockSignatures, takeBack } from '@/db/decisions'
import { defectById } from '@/db/defects'
import { notify } from '@/db/notify'
import type { Context } from '../context'
import { Problem } from '../http/problems'
import { validator } from '../http/validator'
import { lookAtRun } from './run-causes'

export const NOTE_MOST = 1000
const CAUSES_MOST = 200

/** `seen`: the decision that was there when the person looked; `null`: none. `defectId`: which known one it
 * is. */
export const decideBody = validator({
  type: 'object',
  additionalProperties: false,
  required: ['as', 'note', 'causes'],
  properties: {
    as: { enum: DECISIONS },
    note: { type: 'string', maxLength: NOTE_MOST },
    defectId: { type: 'integer', minimum: 1 },
    causes: {
      type: 'array',
      minItems: 1,
      maxItems: CAUSES_MOST,
      items: {
        type: 'object',
        additionalProperties: false,
        required: ['signature', 'seen'],
        properties: {
          signature: { type: 'string', minLength: 1, maxLength: 400 },
          seen: { anyOf: [{ type: 'integer', minimum: 1 }, { type: 'null' }] },
        },
      },
    },
  },
})
type Body = {
  as: DecisionKind
  note: string
  defectId?: number
  causes: { signature: string; seen: number | null }[]
}

/** All of them, or none.
 * @returns ids of the decisions, in the order of the causes
 * @throws {Problem} NOT_FOUND: no failure of the run has such a cause; CHANGED_MEANWHILE: somebody else
 * decided */
export async function decideCauses(
  ctx: Context,
  runId: number,
  { as, note: words, defectId, causes }: Body,
  person: string,
): Promise<number[]> {
  if (defectId !== undefined) await requireDefect(ctx, as, defectId)
  const looked = await lookAtRun(ctx, runId)
  const known = new Map(looked.causes.map((one) => [one.signature, one]))
  const chosen = causes.map(({ signature }) => {
    const cause = known.get(signature)
    if (!cause) throw new Problem('NOT_FOUND', 'No failure of this run has this cause any more: look again.')
    return cause
  })
  const signatures = [...new Set(causes.map(({ signature }) => signature))]
  if (signatures.length < causes.length)
    throw new Problem('BODY_INVALID', 'A cause is named twice: each is decided once.')
  return ctx.db.transaction(async (tx) => {
    await lockSignatures(tx, signatures)
    const now = await decisionsOf(tx, signatures)
    for (const { signature, seen } of causes) {
      const other = now.get(signature)
      if ((other?.id ?? null) !== seen)
        throw new Problem(
          'CHANGED_MEANWHILE',
          other
            ? `${other.decidedBy} decided this meanwhile. Look at it, and decide again if you see it ` +
                'differently.'
            : 'What was decided was taken back meanwhile. Look at it again.',
        )
    }
    const added = await addDecisions(
      tx,
      chosen.map(({ signature, title, facts, likely }) => ({
        signature,
        as,
        note: words.trim(),
        ...(defectId !== undefined && { defectId }),
        build: looked.build,
        runId,
        title,
        facts,
        proposed: likely,
        decidedBy: person,
      })),
    )
    const titles = chosen.map(({ title }) => title.slice(0, 200)).slice(0, 20)
    await note(tx, person, 'triage.decide', `run ${runId}`, {
      as,
      causes: titles,
      ...(defectId !== undefined && { defect: defectId }),
    })
    await notify(tx, 'triage')
    return added.map(({ id }) => id)
  })
}

/** @throws {Problem} BODY_INVALID: only a known one is one of these; NOT_FOUND: it is not there */
async function requireDefect({ db }: Context, as: DecisionKind, id: number): Promise<void> {
  if (as !== 'known-defect')
    throw new Problem('BODY_INVALID', 'Only a known defect is one that was logged: leave it out.')
  if (!(await defectById(db, id)))
    throw new Problem('NOT_FOUND', 'This defect is not there any more: choose another one.')
}

/** The one before it, if there is one, is what is decided then.
 * @throws {Problem} NOT_FOUND: there is none, or it was taken back already */
export async function takeBackDecision(ctx: Context, id: number, person: string): Promise<void> {
  await ctx.db.transaction(async (tx) => {
    const row = await takeBack(tx, ctx.now, id, person)
    if (!row) throw new Problem('NOT_FOUND', 'There is no such decision, or it was taken back already.')
    await note(tx, person, 'triage.take-back', row.runId === null ? 'triage' : `run ${row.runId}`, {
      as: row.as,
      cause: row.title.slice(0, 200),
    })
    await notify(tx, 'triage')
  })
}

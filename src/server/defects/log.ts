/** From a failure to a defect a developer can act on. */
import { note } from '@/db/audit'
import {
  addDefect,
  defectById,
  editDefect,
  listDefects,
  markToSend,
  type DefectRow,
  type DefectText,
} from '@/db/defects'
import { notify } from '@/db/notify'
import type { Context } from '../context'
import { Problem } from '../http/problems'
import { validator, validatorOf, type BodyOf } from '../http/validator'
import { draftOf } from './draft'
import { FAILURE_OF } from './failure-of'
import { enqueueSend } from './queue'

const LINE = { type: 'string', minLength: 1, maxLength: 200 } as const
const TEXT = { type: 'string', maxLength: 20_000 } as const
const text = {
  title: LINE,
  steps: TEXT,
  expected: TEXT,
  actual: TEXT,
  severity: { enum: ['low', 'normal', 'high', 'critical'] },
} as const
/** With an address a defect is mailed there; without, it goes to the tracker. */
const MAIL = { type: 'string', pattern: '^[^@\\s,<>]+@[^@\\s,<>]+$', maxLength: 200 } as const
export const sendBody = validator({
  type: 'object',
  additionalProperties: false,
  properties: { mailTo: MAIL },
})
const TEXT_FIELDS = ['title', 'steps', 'expected', 'actual', 'severity'] as const

export const logBody = validator({
  type: 'object',
  additionalProperties: false,
  required: ['evidence', 'send', ...TEXT_FIELDS],
  properties: {
    ...text,
    ...FAILURE_OF,
    evidence: { type: 'array', items: { type: 'string', maxLength: 64 }, maxItems: 50 },
    send: { type: 'boolean' },
    mailTo: MAIL,
  },
})
export type LogRequest = BodyOf<typeof logBody>
export const editBody = validatorOf<DefectText & { version: number }>()({
  type: 'object',
  additionalProperties: false,
  required: ['version', ...TEXT_FIELDS],
  properties: { ...text, version: { type: 'integer' } },
})

/** Saves a defect; with `send`, hands it to the worker in the same transaction. @returns the saved row
 * @throws {Problem} BODY_INVALID, NOT_FOUND */
export async function logDefect(ctx: Context, request: LogRequest, who: string): Promise<DefectRow> {
  const { attemptId, caseRunId, evidence, send, mailTo, ...words } = request
  const draft = await draftOf(ctx, { attemptId, caseRunId })
  return ctx.db.transaction(async (tx) => {
    const kept = draft.evidence
      .filter(({ hash }) => evidence.includes(hash))
      .map(({ kind, hash }) => ({ kind, hash }))
    const defect = await addDefect(
      tx,
      {
        ...words,
        attemptId: attemptId ?? null,
        caseRunId: caseRunId ?? null,
        evidence: kept,
        environment: draft.environment,
        occurs: draft.occurs,
        build: draft.build,
        caseKey: draft.caseKey,
        runId: draft.runId,
        createdBy: who,
      },
      ctx.now,
    )
    await note(tx, who, 'defect.log', String(defect.id), { title: defect.title })
    if (send) {
      await markToSend(tx, defect.id, mailTo ?? null)
      await enqueueSend(tx, defect.id)
    }
    await notify(tx, 'defects', defect.id)
    return { ...defect, mailTo: mailTo ?? null, state: send ? 'to-send' : 'draft' }
  })
}

/** Changes a draft's words. @throws {Problem} CHANGED_MEANWHILE when somebody else did, or it has been
 * sent */
export async function changeDefect(
  ctx: Context,
  id: number,
  { version, ...words }: DefectText & { version: number },
  who: string,
): Promise<DefectRow> {
  return ctx.db.transaction(async (tx) => {
    const row = await editDefect(tx, id, version, words)
    if (!row)
      throw new Problem(
        'CHANGED_MEANWHILE',
        'This defect was changed or sent in the meantime. Your words are still here; read the newer ' +
          'ones first.',
        await defectById(tx, id),
      )
    await note(tx, who, 'defect.edit', String(id))
    await notify(tx, 'defects', id)
    return row
  })
}

/** Sends a draft, or one that waits, now.
 * @param mailTo where it is mailed to; absent: where it was meant to go, at first the tracker
 * @throws {Problem} CHANGED_MEANWHILE */
export async function sendNow(ctx: Context, id: number, who: string, mailTo?: string): Promise<void> {
  await ctx.db.transaction(async (tx) => {
    if (!(await markToSend(tx, id, mailTo)))
      throw new Problem('CHANGED_MEANWHILE', 'It has been sent already.')
    await enqueueSend(tx, id)
    await note(tx, who, 'defect.send', String(id), mailTo === undefined ? {} : { mailTo })
    await notify(tx, 'defects', id)
  })
}

/** Newest first. */
export const allDefects = (ctx: Context): Promise<DefectRow[]> => listDefects(ctx.db)

/** A failure is a defect that is known: said at the tracker with its evidence, and decided of its cause. */
import { decisionsOf } from '@/db/decisions'
import { addEvidence, defectById, defectsOfNumber, noteSent, oneAtATime } from '@/db/defects'
import { notify } from '@/db/notify'
import { within, type Context } from '../context'
import { Problem } from '../http/problems'
import { validator, type BodyOf } from '../http/validator'
import { decideCauses, sameCauseAs } from '../triage'
import { placesOf } from './body'
import { enqueueAttaching } from './attach'
import { draftOf } from './draft'
import { FAILURE_OF } from './failure-of'
import { logDefect } from './log'
import { sayOfDefect } from './messages'
import { issueAtTracker, searchTracker, TrackerProblem } from './tracker'

/** `evidence`: the hashes of what goes with it. */
export const againBody = validator({
  type: 'object',
  additionalProperties: false,
  required: ['evidence'],
  properties: {
    ...FAILURE_OF,
    evidence: { type: 'array', items: { type: 'string', maxLength: 64 }, maxItems: 50 },
  },
})

/** `number`: of an issue of the tracker that the failure is. */
export const adoptBody = validator({
  type: 'object',
  additionalProperties: false,
  required: ['evidence', 'number'],
  properties: {
    ...FAILURE_OF,
    evidence: { type: 'array', items: { type: 'string', maxLength: 64 }, maxItems: 50 },
    number: { type: 'string', minLength: 1, maxLength: 100 },
  },
})

/** `said`: at the tracker; false where it does not have the defect, or this failure was told of before.
 * `decided`: of the cause; false where it has a decision, or the failure is none of its run's. */
export type SeenAgain = { said: boolean; decided: boolean }

/** @throws {Problem} NOT_FOUND; CHANGED_MEANWHILE: somebody decides at the same moment */
export async function seenAgain(
  ctx: Context,
  defectId: number,
  { attemptId, caseRunId, evidence }: BodyOf<typeof againBody>,
  who: string,
): Promise<SeenAgain> {
  const defect = await defectById(ctx.db, defectId)
  if (!defect) throw new Problem('NOT_FOUND', 'There is no such defect.')
  const draft = await draftOf(ctx, { attemptId, caseRunId })
  const decided = await decideIsKnown(ctx, draft.runId, (attemptId ?? caseRunId)!, defectId, who)
  const pieces = draft.evidence
    .filter(({ hash }) => evidence.includes(hash))
    .map(({ kind, hash }) => ({ kind, hash }))
  const text = [
    `Seen again: ${draft.caseTitle}, ${draft.environment}, build ${draft.build}.`,
    draft.occurs,
    draft.actual && `Actual: ${draft.actual}`,
    placesOf({
      attemptId: attemptId ?? null,
      caseRunId: caseRunId ?? null,
      runId: draft.runId,
      evidence: pieces,
    }).join('\n'),
  ]
  const said =
    defect.trackerNumber !== null &&
    (await sayOfDefect(ctx, defectId, { text: text.filter(Boolean).join('\n\n') }, who, {
      attemptId,
      caseRunId,
    }))
  // with the defect it is kept as long as that, and goes to a tracker that takes pieces
  await ctx.db.transaction(async (tx) => {
    if (!(await addEvidence(tx, defectId, pieces, PIECES_MOST))) return
    await notify(tx, 'defects', defectId)
    if (defect.trackerNumber !== null) await enqueueAttaching(tx, defectId)
  })
  return { said, decided }
}
/** Of one defect, of all the failures that it was seen with. */
const PIECES_MOST = 100

/** What somebody decided of it already stays. */
async function decideIsKnown(ctx: Context, runId: number, failure: string, defectId: number, who: string) {
  const { signature } = await sameCauseAs(ctx, runId, failure)
  if (signature === undefined || (await decisionsOf(ctx.db, [signature])).has(signature)) return false
  const causes = [{ signature, seen: null }]
  await decideCauses(ctx, runId, { as: 'known-defect', note: '', defectId, causes }, who)
  return true
}

/** A failure is an issue that the tracker has, and is known here as well from now on.
 * @returns the defect's id
 * @throws {Problem} TRACKER_DOWN: it does not tell of it; NOT_FOUND; CHANGED_MEANWHILE */
export async function adoptIssue(
  ctx: Context,
  { number: asked, ...failure }: BodyOf<typeof adoptBody>,
  who: string,
): Promise<SeenAgain & { id: number }> {
  const { title, ...issue } = await issueAtTracker(ctx, asked).catch((error: unknown) => {
    if (!(error instanceof TrackerProblem)) throw error
    throw new Problem('TRACKER_DOWN', `${error.message} Nothing was changed.`)
  })
  const id = await ctx.db.transaction(async (tx) => {
    await oneAtATime(tx, issue.number)
    const known = (await defectsOfNumber(tx, issue.number))[0]?.id
    if (known !== undefined) return known
    const inside = within(ctx, tx)
    const { steps, expected, actual, severity, title: drafted } = await draftOf(inside, failure)
    const words = { title: title || drafted, steps, expected, actual, severity }
    const added = await logDefect(inside, { ...failure, ...words, send: false }, who)
    await noteSent(tx, added.id, issue)
    return added.id
  })
  return { id, ...(await seenAgain(ctx, id, failure, who)) }
}

/** Issues of the tracker with these words. @throws {Problem} TRACKER_DOWN */
export const foundAtTracker = (ctx: Pick<Context, 'db'>, words: string) =>
  searchTracker(ctx, words.slice(0, WORDS_MOST)).catch((error: unknown) => {
    if (!(error instanceof TrackerProblem)) throw error
    throw new Problem('TRACKER_DOWN', error.message)
  })
const WORDS_MOST = 200

/** Carrying out a case by hand: what is said is kept as it is said, and becomes an attempt at the end. */
import { concluded, isJudged, logOf, type GuidedPicture } from '@/core/guided'
import { note } from '@/db/audit'
import { assignTo, beginByHand, dropSheet, saveSheet } from '@/db/guided'
import { knownEvidence } from '@/db/evidence'
import { notify } from '@/db/notify'
import type { Context } from '../context'
import { finishAttempt } from '../dispatch'
import { keepPicture, receiveEvidence } from '../evidence'
import { Problem } from '../http/problems'
import type { SaveRequest } from './bodies'
import { guidedOf, type Guided } from './sheet'

/** Keeps what was said so far. Who says something has the case from then on.
 * @returns the version of the sheet
 * @throws {Problem} NOT_FOUND; RUN_ENDED; CHANGED_MEANWHILE: somebody else saved; BODY_INVALID: a step or a
 * picture that is not there; then nothing was kept */
export async function saveGuided(ctx: Context, id: string, asked: SaveRequest, who: string): Promise<number> {
  const guided = await guidedOf(ctx, id)
  requireOpen(guided)
  const judged = new Set(guided.steps.filter(isJudged).map(({ path }) => path))
  const paths = asked.verdicts.map(({ path }) => path)
  const unknown = paths.find((path) => !judged.has(path))
  if (unknown !== undefined) throw new Problem('BODY_INVALID', `There is no step ${unknown} to be judged.`)
  if (new Set(paths).size < paths.length) throw new Problem('BODY_INVALID', 'A step has one verdict.')
  const pictures = [...new Set(asked.verdicts.flatMap((one) => one.pictures.map(({ hash }) => hash)))]
  if ((await knownEvidence(ctx.db, pictures)).size < pictures.length)
    throw new Problem('BODY_INVALID', 'A picture is not here: paste it again.')
  if (asked.video && (await knownEvidence(ctx.db, [asked.video.hash])).size === 0)
    throw new Problem('BODY_INVALID', 'The video is not here: record it again.')
  const version = await ctx.db.transaction(async (tx) => {
    const saved = await saveSheet(tx, id, asked.version, { ...asked, person: who }, ctx.now)
    if (saved === undefined) throw changedMeanwhile(guided)
    if (guided.caseRun.agent !== who) {
      await assignTo(tx, [id], who)
      await note(tx, who, 'guided.take', String(guided.caseRun.runId), {
        caseRun: id,
        from: guided.caseRun.agent,
      })
    }
    await notify(tx, 'run', guided.caseRun.runId)
    return saved
  })
  return version
}

/** Keeps a picture for a step. @throws {Problem} NOT_FOUND; RUN_ENDED; as `keepPicture` */
export async function keepGuidedPicture(ctx: Context, id: string, bytes: Buffer): Promise<GuidedPicture> {
  requireOpen(await guidedOf(ctx, id))
  return keepPicture(ctx, bytes, 'The picture')
}

/** Keeps what a person recorded of their window, piece by piece as it comes.
 * @throws {Problem} NOT_FOUND; RUN_ENDED; BODY_INVALID: it is no WebM; as `receiveEvidence` */
export async function keepGuidedVideo(
  ctx: Context,
  id: string,
  hash: string,
  body: AsyncIterable<Uint8Array>,
): Promise<void> {
  requireOpen(await guidedOf(ctx, id))
  await receiveEvidence(ctx, hash, 'video/webm', webmOnly(body))
}

/** A WebM begins as each EBML document does (RFC 8794). */
const EBML = Buffer.from([0x1a, 0x45, 0xdf, 0xa3])

async function* webmOnly(body: AsyncIterable<Uint8Array>): AsyncGenerator<Uint8Array> {
  let head = Buffer.alloc(0)
  for await (const part of body) {
    if (head.length >= EBML.length) yield part
    else {
      head = Buffer.concat([head, part])
      if (head.length < EBML.length) continue
      if (!head.subarray(0, EBML.length).equals(EBML)) break
      yield head
    }
  }
  if (!head.subarray(0, EBML.length).equals(EBML))
    throw new Problem('BODY_INVALID', 'This is no video of the kind WebM.')
}

function requireOpen({ caseRun }: Guided): void {
  if (caseRun.state !== 'waiting')
    throw new Problem('RUN_ENDED', 'This case is over: it was concluded, or its run was cancelled.')
  if (!caseRun.ready) throw new Problem('BODY_INVALID', 'Another case of this run has to be over first.')
}

const changedMeanwhile = ({ sheet, caseRun }: Guided) =>
  new Problem(
    'CHANGED_MEANWHILE',
    `${sheet?.person || caseRun.agent || 'Somebody'} said something of this case in the meantime. ` +
      'Read it again, then go on.',
  )

/** Makes an attempt of the sheet, with a log as any other has, and ends the case run by it. An end that is
 * asked for again, after a crash on the way or by an impatient hand, makes no second one.
 * @returns the attempt
 * @throws {Problem} NOT_FOUND; RUN_ENDED; CHANGED_MEANWHILE; BODY_INVALID: there are steps left */
export async function concludeGuided(
  ctx: Context,
  id: string,
  version: number,
  who: string,
): Promise<string> {
  const guided = await guidedOf(ctx, id)
  requireOpen(guided)
  const { steps, sheet } = guided
  if (!sheet || sheet.version !== version) throw changedMeanwhile(guided)
  const result = concluded(steps, sheet.verdicts, sheet.person)
  if (!result)
    throw new Problem('BODY_INVALID', 'Some steps are left: say of each whether it is so, or pass it over.')
  const begun = await ctx.db.transaction(async (tx) => {
    const made = await beginByHand(tx, id, sheet, ctx.now, ctx.leaseMs)
    if (made)
      await note(tx, who, 'guided.conclude', String(made.caseRun.runId), {
        caseRun: id,
        outcome: result.outcome,
      })
    return made
  })
  if (!begun) throw new Problem('RUN_ENDED', 'This case is over: it was concluded, or its run was cancelled.')
  const log = logOf(steps, sheet.verdicts, sheet.person, sheet.facts, sheet.video)
  await finishAttempt(ctx, begun.hold, result, log)
  await dropSheet(ctx.db, id)
  return begun.hold.attemptId
}

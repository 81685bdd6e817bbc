/** Reports of a rotation that go out by mail: after each run, each day or each week. */
import { rotationMail, runMail, type MailText } from '@/core/reports'
import { nextMailTime } from '@/core/rota'
import type { ReportMailLine } from '@/core/view-models'
import { note } from '@/db/audit'
import { definitionRow } from '@/db/definitions'
import {
  addReportMail,
  dropReportMail,
  enqueueMail,
  lockDueMails,
  noteMailed,
  reportMailById,
  reportMailsOf,
  setNextMail,
  type ReportMailRow,
} from '@/db/report-mails'
import { endedRunsOfRotation } from '@/db/rotation-history'
import { MAILED_ABOUT, MAILED_AS, MAILED_EVERY } from '@/db/schema'
import { notify } from '@/db/notify'
import type { Context } from '../context'
import { Problem } from '../http/problems'
import { validator, type BodyOf } from '../http/validator'
import { MailProblem, sendMail } from '../mail'
import { writtenAs, type Writable, type WrittenReport } from './formats'
import { rotationReportOf, RUNS_MOST, writableRotation } from './rotation'
import { runReportOf, writableRun } from './run'

const MAILS_MOST = 20
const DUE_AT_ONCE = 50
/** Mail servers refuse more. */
const ATTACHED_BYTES_MOST = 15_000_000

export const reportMailBody = validator({
  type: 'object',
  additionalProperties: false,
  required: ['recipients', 'format', 'about', 'every'],
  properties: {
    recipients: {
      type: 'array',
      minItems: 1,
      maxItems: 20,
      uniqueItems: true,
      items: { type: 'string', pattern: '^[^@\\s,<>]+@[^@\\s,<>]+$', maxLength: 200 },
    },
    format: { enum: MAILED_AS },
    about: { enum: MAILED_ABOUT },
    runs: { type: 'integer', minimum: 1, maximum: RUNS_MOST },
    every: { enum: MAILED_EVERY },
    weekday: { type: 'integer', minimum: 1, maximum: 7 },
    time: { type: 'string', pattern: '^([01][0-9]|2[0-3]):[0-5][0-9]$' },
    zone: { type: 'string', maxLength: 60 },
  },
})
export type ReportMailRequest = BodyOf<typeof reportMailBody>

export const reportMailLines = async (ctx: Context, key: string): Promise<ReportMailLine[]> =>
  (await reportMailsOf(ctx.db, key)).map(({ createdAt: _, nextAt, lastAt, rotationKey: __, ...line }) => ({
    ...line,
    nextAt: nextAt?.toISOString() ?? null,
    lastAt: lastAt?.toISOString() ?? null,
  }))

/** @throws {Problem} NOT_FOUND; BODY_INVALID: too many, no such zone, or a time is missing */
export async function addRotationMail(
  ctx: Context,
  key: string,
  request: ReportMailRequest,
  who: string,
): Promise<{ id: string }> {
  if (!(await definitionRow(ctx.db, 'rotation', key)))
    throw new Problem('NOT_FOUND', `There is no rotation “${key}”.`)
  if ((await reportMailsOf(ctx.db, key)).length >= MAILS_MOST)
    throw new Problem('BODY_INVALID', `A rotation has at most ${MAILS_MOST} mails: remove one first.`)
  const id = await ctx.db.transaction(async (tx) => {
    const { runs = 1, ...rest } = request
    const made = await addReportMail(tx, {
      ...rest,
      runs,
      ...timesOf(request, ctx.now.moment ?? new Date()),
      rotationKey: key,
      createdBy: who,
    })
    await note(tx, who, 'report-mail.add', key, { ...request, id: made })
    return made
  })
  await notify(ctx.db, 'rota')
  return { id }
}

function timesOf({ every, weekday, time, zone }: ReportMailRequest, now: Date) {
  const none = { weekday: null, time: null, zone: null, nextAt: null }
  if (every === 'run') return none
  if (time === undefined || zone === undefined || (every === 'week' && weekday === undefined))
    throw new Problem('BODY_INVALID', 'Say at what time, in which time zone, and each week on which day.')
  const at = { weekday: every === 'week' ? weekday! : null, time, zone }
  try {
    return { ...at, nextAt: nextMailTime(at, now) }
  } catch (error) {
    throw error instanceof RangeError ? new Problem('BODY_INVALID', `${error.message}.`) : error
  }
}

/** @throws {Problem} NOT_FOUND */
export async function removeRotationMail(ctx: Context, key: string, id: string, who: string): Promise<void> {
  await ctx.db.transaction(async (tx) => {
    if (!(await dropReportMail(tx, key, id)))
      throw new Problem('NOT_FOUND', 'There is no such mail any more.')
    await note(tx, who, 'report-mail.remove', key, { id })
  })
  await notify(ctx.db, 'rota')
}

/** Sends it now, to see that it arrives. @throws {Problem} NOT_FOUND; MAIL_REFUSED with the reason */
export async function tryRotationMail(ctx: Context, key: string, id: string): Promise<void> {
  const mail = await reportMailById(ctx.db, id)
  if (!mail || mail.rotationKey !== key) throw new Problem('NOT_FOUND', 'There is no such mail any more.')
  await send(ctx, mail).catch((error: unknown) => {
    throw error instanceof MailProblem ? new Problem('MAIL_REFUSED', error.message) : error
  })
}

/** What the worker does for a job. @throws {MailProblem} it was not taken: the job is tried again */
export async function mailReport(
  ctx: Context,
  { mail: id, run }: { mail: string; run?: number },
): Promise<void> {
  const mail = await reportMailById(ctx.db, id)
  if (mail) await send(ctx, mail, run)
}

/** Makes jobs of the mails whose time has come. What was missed while nothing ran goes out once. */
export async function enqueueDueMails(ctx: Context): Promise<number> {
  return ctx.db.transaction(async (tx) => {
    const due = await lockDueMails(tx, ctx.now, DUE_AT_ONCE)
    for (const mail of due) {
      await enqueueMail(tx, mail.id)
      await setNextMail(tx, mail.id, nextMailTime(mail, ctx.now.moment ?? new Date()))
    }
    return due.length
  })
}

async function send(ctx: Context, mail: ReportMailRow, run?: number): Promise<void> {
  try {
    const made = await madeOf(ctx, mail, run)
    if (!made) return await noteMailed(ctx.db, mail.id, 'Nothing was sent: it has not run yet.')
    const { words, written, name } = made
    const content = Buffer.from(written.content)
    const fits = content.length <= ATTACHED_BYTES_MOST
    await sendMail(ctx, {
      to: mail.recipients.join(', '),
      id: `oak-report-${mail.id}-${run ?? Date.now()}`,
      subject: words.subject,
      text: fits ? words.text : `${words.text}\nThe report is too large to be attached.\n`,
      attachments: fits
        ? [{ filename: `${name}.${written.format}`, content, contentType: written.type }]
        : [],
    })
    await noteMailed(ctx.db, mail.id, null)
  } catch (error) {
    const why =
      error instanceof MailProblem || error instanceof Problem ? error.message : 'It could not be made.'
    await noteMailed(ctx.db, mail.id, why)
    throw error
  } finally {
    await notify(ctx.db, 'rota')
  }
}

type Made = { words: MailText; written: WrittenReport; name: string }

/** @returns `undefined`: there is no run of it yet */
async function madeOf(ctx: Context, mail: ReportMailRow, run?: number): Promise<Made | undefined> {
  const address = process.env.OAK_PUBLIC_URL
  const { rotationKey: key, runs, format } = mail
  const write = (report: Writable) => writtenAs(format, () => report)
  if (mail.about === 'runs') {
    const report = await rotationReportOf(ctx, key, runs)
    const words = rotationMail(report, address)
    return { words, written: await write(writableRotation(report)), name: `rotation-${key}` }
  }
  const id = run ?? (await endedRunsOfRotation(ctx.db, key, 1))[0]?.id
  if (id === undefined) return undefined
  const report = await runReportOf(ctx, id)
  const words = runMail(report, address)
  return { words, written: await write(writableRun(ctx, report)), name: `run-${id}` }
}

export { MAIL_REPORT } from '@/db/report-mails'

/** Mail: a server of yours that takes what this product sends. Tried before it is kept. */
import { createTransport } from 'nodemailer'
import { note } from '@/db/audit'
import { notify } from '@/db/notify'
import { dropSetting, putSetting, setting } from '@/db/settings'
import { refusalOfHost } from '@/node/outgoing'
import type { Context } from './context'
import { Problem } from './http/problems'
import { validator, type BodyOf } from './http/validator'
import { outgoingPolicy } from './outgoing'
import { openColumn, sealColumn } from './sealing'

const NAME = 'mail'
const ANSWER_MS = 10_000

export const mailBody = validator({
  type: 'object',
  additionalProperties: false,
  required: ['host', 'port', 'from'],
  properties: {
    host: { type: 'string', pattern: '^[A-Za-z0-9._:-]+$', maxLength: 200 },
    port: { type: 'integer', minimum: 1, maximum: 65_535 },
    /** TLS from the first byte (usually port 465); else STARTTLS where the server offers it. */
    secure: { type: 'boolean' },
    username: { type: 'string', maxLength: 200 },
    password: { type: 'string', maxLength: 500 },
    from: { type: 'string', pattern: '^[^@\\s,<>]+@[^@\\s,<>]+$', maxLength: 200 },
  },
})
export type MailRequest = BodyOf<typeof mailBody>
type Kept = Omit<MailRequest, 'password'> & { password?: string }

/** What of it people may see. */
export type MailLine = Omit<MailRequest, 'password'>

export async function mailLine(ctx: Pick<Context, 'db'>): Promise<MailLine | null> {
  const kept = await setting<Kept>(ctx.db, NAME)
  if (!kept) return null
  const { password: _, ...line } = kept
  return line
}

/** Keeps the mail server, its password sealed, when it lets this product in. Without a password the one that
 * was kept for the same user and host stays.
 * @throws {Problem} OUTGOING_REFUSED, MAIL_REFUSED; then nothing was changed */
export async function setMail(ctx: Context, request: MailRequest, who: string): Promise<void> {
  const before = await setting<Kept>(ctx.db, NAME)
  const isSame = before?.host === request.host && before.username === request.username
  const kept: Kept = {
    ...request,
    ...(request.password
      ? { password: sealColumn(request.password) }
      : isSame && before.password !== undefined && { password: before.password }),
  }
  try {
    await (await transportOf(kept)).verify()
  } catch (error) {
    if (error instanceof Problem) throw error
    throw new Problem(
      'MAIL_REFUSED',
      `${request.host}:${request.port}: ${reasonOf(error)}. Nothing was changed.`,
    )
  }
  await ctx.db.transaction(async (tx) => {
    await putSetting(tx, NAME, kept)
    const { password: _, ...line } = kept
    await note(tx, who, 'mail.set', request.host, line)
  })
  await notify(ctx.db, 'settings')
}

/** @throws {Problem} NOT_FOUND */
export async function removeMail(ctx: Context, who: string): Promise<void> {
  await ctx.db.transaction(async (tx) => {
    if (!(await dropSetting(tx, NAME))) throw new Problem('NOT_FOUND')
    await note(tx, who, 'mail.remove', NAME)
  })
  await notify(ctx.db, 'settings')
}

export type Message = {
  to: string
  subject: string
  text: string
  /** The same for the same message: a server that got it twice can tell. */
  id: string
  attachments?: { filename: string; content: Buffer; contentType: string }[]
}
/** The message was not taken; the words are for a person. */
export class MailProblem extends Error {}

/** @throws {MailProblem} */
export async function sendMail(ctx: Pick<Context, 'db'>, { id, ...message }: Message): Promise<void> {
  const kept = await setting<Kept>(ctx.db, NAME)
  if (!kept) throw new MailProblem('No mail server is set up.')
  try {
    const transport = await transportOf(kept)
    await transport.sendMail({
      ...message,
      from: kept.from,
      messageId: `<${id}@${kept.from.split('@')[1]!}>`,
    })
    transport.close()
  } catch (error) {
    throw new MailProblem(
      error instanceof Problem ? error.message : `The mail server does not take it: ${reasonOf(error)}.`,
    )
  }
}

/** @throws {Problem} OUTGOING_REFUSED */
async function transportOf({ host, port, secure = false, username, password }: Kept) {
  const refusal = await refusalOfHost(host, port, outgoingPolicy()).catch(() => undefined)
  if (refusal) throw new Problem('OUTGOING_REFUSED', `${refusal}.`)
  return createTransport({
    host,
    port,
    secure,
    connectionTimeout: ANSWER_MS,
    greetingTimeout: ANSWER_MS,
    socketTimeout: ANSWER_MS,
    disableFileAccess: true,
    disableUrlAccess: true,
    ...(username && { auth: { user: username, pass: password === undefined ? '' : openColumn(password) } }),
  })
}

/** The first line, without what a library puts around it. */
const reasonOf = (error: unknown): string =>
  ((error as Error).message.split('\n')[0] ?? '').replace(/[.\s]+$/, '') || 'no answer'

export const tryBody = validator({
  type: 'object',
  additionalProperties: false,
  required: ['to'],
  properties: { to: { type: 'string', pattern: '^[^@\\s,<>]+@[^@\\s,<>]+$', maxLength: 200 } },
})

/** Sends a message to look at. @throws {Problem} MAIL_REFUSED */
export async function tryMail(ctx: Context, to: string, who: string): Promise<void> {
  try {
    await sendMail(ctx, {
      to,
      id: `oak-try-${Date.now()}`,
      subject: 'A message to try the mail of Oak Rotation',
      text: `${who} asked for this message, to see whether mail arrives. There is nothing to do.`,
    })
  } catch (error) {
    if (error instanceof MailProblem) throw new Problem('MAIL_REFUSED', error.message)
    throw error
  }
}

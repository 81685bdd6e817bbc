/** A defect as mail to whoever answers for the application: its words, and its screens as attachments. */
import type { DefectRow } from '@/db/defects'
import { evidenceRow } from '@/db/evidence'
import type { Context } from '../context'
import { sendMail } from '../mail'
import { bodyOf } from './body'

/** Larger pieces stay here, and are named with their address. */
const ATTACHED_BYTES_MOST = 5_000_000
const NAMES = {
  'screen-before': 'before',
  'screen-after': 'at-the-failure',
  'screen-marked': 'marked',
  display: 'display',
} as const

/** @throws {MailProblem} */
export async function mailDefect(ctx: Context, defect: DefectRow, to: string): Promise<void> {
  const attachments = []
  for (const [i, { kind, hash }] of defect.evidence.entries()) {
    if (kind === 'video' || kind === 'page-source') continue
    const found = await evidenceRow(ctx.db, hash)
    if (!found || found.bytes > ATTACHED_BYTES_MOST) continue
    const name = kind === 'screen-marked' ? `${NAMES[kind]}-${i + 1}` : NAMES[kind]
    attachments.push({
      filename: `${name}.${found.mime === 'image/jpeg' ? 'jpg' : 'png'}`,
      content: await read(ctx, hash),
      contentType: found.mime,
    })
  }
  await sendMail(ctx, {
    to,
    id: `oak-defect-${defect.id}-${defect.createdAt.getTime()}`,
    subject: `${defect.title} (${defect.severity}, build ${defect.build})`,
    text: bodyOf(defect),
    attachments,
  })
}

async function read({ evidence }: Pick<Context, 'evidence'>, hash: string): Promise<Buffer> {
  const parts: Uint8Array[] = []
  for await (const part of evidence.read(hash)) parts.push(part as Uint8Array)
  return Buffer.concat(parts)
}

/** The evidence document of an attempt: a file that stands by itself, and tells when it was changed. */
import { createHash } from 'node:crypto'
import { caseDocument, hashesOf, sealed } from '@/core/reports'
import { note } from '@/db/audit'
import { runViewModel as runRow } from '@/db/runs'
import type { Context } from '../context'
import { askLog } from '../reading'
import { attemptViewModel } from '../view-models'
import { picturesOf } from './pictures'
import { asFile, reporting } from './reporting'

/** Screens in one file: so many, together at most so large. */
const MOST = { screens: 400, bytes: 24_000_000 }

/** The hash of the file is noted in the audit trail, so that it can be told from one that was made anew.
 * @throws {Problem} NOT_FOUND */
export async function serveDocument(ctx: Context, attemptId: string, who: string): Promise<Response> {
  const text = await reporting.through(async () => {
    const [attempt, lines] = await Promise.all([
      attemptViewModel(ctx, attemptId),
      askLog(ctx, attemptId, { ask: 'all' }),
    ])
    const run = await runRow(ctx.db, attempt.runId)
    const pictures = await picturesOf(ctx, hashesOf(lines), MOST)
    const made = { at: (ctx.now.moment ?? new Date()).toISOString(), by: who }
    const document = caseDocument(
      { ...attempt, lines, startedBy: run?.startedBy ?? 'unknown' },
      pictures,
      made,
    )
    const file = sealed(document, sha256)
    await ctx.db.transaction((tx) => note(tx, who, 'document.make', attemptId, { sha256: sha256(document) }))
    return file
  })
  return asFile(text, 'text/html; charset=utf-8', `evidence-${attemptId}.html`)
}

const sha256 = (text: string) => createHash('sha256').update(text).digest('hex')

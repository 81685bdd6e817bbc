/** The evidence document of an attempt: a file that stands by itself, and tells when it was changed. */
import { createHash } from 'node:crypto'
import { caseDocument, hashesOf, sealed, type DocumentedAttempt } from '@/core/reports'
import { note } from '@/db/audit'
import { runViewModel as runRow } from '@/db/runs'
import type { AttemptViewModel } from '@/core/view-models'
import type { Context } from '../context'
import { askLog } from '../reading'
import { attemptViewModel } from '../view-models'
import { picturesOf } from './pictures'
import { asFile, reporting } from './reporting'

/** Screens in one file: so many, together at most so large. */
const MOST = { screens: 400, bytes: 24_000_000 }
type Made = { at: string; by: string }

/** The hash of the file is noted in the audit trail, so that it can be told from one that was made anew.
 * @throws {Problem} NOT_FOUND */
export async function serveDocument(ctx: Context, attemptId: string, who: string): Promise<Response> {
  const made = { at: (ctx.now.moment ?? new Date()).toISOString(), by: who }
  const text = await reporting.through(async () =>
    documentOf(ctx, await documentedAttempt(ctx, attemptId), made),
  )
  return asFile(text, 'text/html; charset=utf-8', `evidence-${attemptId}.html`)
}

/** @throws {Problem} NOT_FOUND */
export async function documentedAttempt(
  ctx: Context,
  id: string,
): Promise<DocumentedAttempt & Pick<AttemptViewModel, 'source' | 'display'>> {
  const [attempt, lines] = await Promise.all([attemptViewModel(ctx, id), askLog(ctx, id, { ask: 'all' })])
  const run = await runRow(ctx.db, attempt.runId)
  return { ...attempt, lines, startedBy: run?.startedBy ?? 'unknown' }
}

/** The sealed document; its hash stands in the audit trail then. */
export async function documentOf(ctx: Context, attempt: DocumentedAttempt, made: Made): Promise<string> {
  const marked = attempt.marked.map(({ hash }) => hash)
  const pictures = await picturesOf(ctx, [...marked, ...hashesOf(attempt.lines)], MOST)
  const document = caseDocument(attempt, pictures, made)
  await ctx.db.transaction((tx) =>
    note(tx, made.by, 'document.make', attempt.id, { sha256: sha256(document) }),
  )
  return sealed(document, sha256)
}

const sha256 = (text: string) => createHash('sha256').update(text).digest('hex')

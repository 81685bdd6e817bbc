/** Signing a release sheet: what was seen is kept as a sealed document, and in the audit trail. */
import { createHash } from 'node:crypto'
import { releaseDocumentOf, sealed } from '@/core/reports'
import { note as noteDown } from '@/db/audit'
import { notify } from '@/db/notify'
import { addRelease, releaseDocument } from '@/db/requirements'
import { RELEASE_DECISIONS } from '@/db/schema'
import type { Context } from '../context'
import { Problem } from '../http/problems'
import { validator, type BodyOf } from '../http/validator'
import { asFile } from '../reports/reporting'
import { releaseViewModel } from './release'

export const signBody = validator({
  type: 'object',
  additionalProperties: false,
  required: ['build', 'seen', 'decision', 'note'],
  properties: {
    build: { type: 'string', minLength: 1, maxLength: 60 },
    /** Names the sheet that the person read. */
    seen: { type: 'string', pattern: '^[0-9a-f]{64}$' },
    decision: { type: 'string', enum: [...RELEASE_DECISIONS] },
    note: { type: 'string', maxLength: 2000 },
  },
})

const sha256 = (text: string) => createHash('sha256').update(text).digest('hex')

/** @returns id of what was signed
 * @throws {Problem} NOT_FOUND; CHANGED_MEANWHILE: the sheet says something else by now;
 * BODY_INVALID: it goes out in spite of what speaks against it, and nobody said why */
export async function signRelease(
  ctx: Pick<Context, 'db' | 'now'>,
  { build, seen, decision, note }: BodyOf<typeof signBody>,
  who: string,
): Promise<number> {
  const known = await releaseViewModel(ctx, build)
  const { sheet, requirements, environments } = known
  if (known.build !== build || !sheet) throw new Problem('NOT_FOUND', `There is no build “${build}”.`)
  if (known.seen !== seen)
    throw new Problem(
      'CHANGED_MEANWHILE',
      'The sheet says something else by now. Read it again, then sign it.',
    )
  const goes = decision === 'goes'
  if (goes && sheet.verdict !== 'go' && note.trim() === '')
    throw new Problem('BODY_INVALID', 'Say why it goes out although the sheet does not say so.')
  const at = (ctx.now.moment ?? new Date()).toISOString()
  const document = releaseDocumentOf({ sheet, requirements, environments, goes, note, by: who, at })
  const hash = sha256(document)
  return ctx.db.transaction(async (tx) => {
    const id = await addRelease(tx, {
      build,
      decision,
      note: note.trim(),
      sheet,
      document: sealed(document, sha256),
      sha256: hash,
      signedBy: who,
      signedAt: new Date(at),
    })
    await noteDown(tx, who, 'release.sign', build, { decision, sha256: hash })
    await notify(tx, 'release')
    return id
  })
}

/** @throws {Problem} NOT_FOUND */
export async function serveRelease(ctx: Pick<Context, 'db'>, id: number): Promise<Response> {
  const kept = await releaseDocument(ctx.db, id)
  if (!kept) throw new Problem('NOT_FOUND', `There is no release sheet ${id}.`)
  return asFile(kept.document, 'text/html; charset=utf-8', `release-${kept.build}-${id}.html`)
}

import { Readable } from 'node:stream'
import { addEvidence, evidenceRow, knownEvidence } from '@/db/evidence'
import type { Context } from '../context'
import { Problem } from '../http/problems'
import { HASH, hashOf } from './store'

/** What evidence may be. Page source is kept as plain text: it is never served as a page. */
const MIMES: readonly string[] = ['image/jpeg', 'image/png', 'video/webm', 'text/plain']

/** @throws {Problem} BODY_INVALID */
export function requireKind(hash: string, mime: string): void {
  if (!HASH.test(hash))
    throw new Problem('BODY_INVALID', 'The hash must be 64 lower-case hexadecimal digits (SHA-256).')
  if (!MIMES.includes(mime)) throw new Problem('BODY_INVALID', `Evidence is one of: ${MIMES.join(', ')}.`)
}

/** Stores bytes under their hash. @throws {Problem} EVIDENCE_DIFFERS, BODY_INVALID; STORE_FULL or STORE_AWAY,
 * for which an agent keeps them and tries again */
export async function keepEvidence(
  { db, evidence }: Pick<Context, 'db' | 'evidence'>,
  hash: string,
  mime: string,
  bytes: Uint8Array,
): Promise<void> {
  requireKind(hash, mime)
  if (hashOf(bytes) !== hash) throw new Problem('EVIDENCE_DIFFERS')
  // the file first: a row without a file would promise what is not there
  await evidence.put(hash, bytes).catch(refuse)
  await addEvidence(db, { hash, mime, bytes: bytes.length })
  // deleted as unused between the two lines above
  if ((await evidence.size(hash)) === undefined) await evidence.put(hash, bytes).catch(refuse)
}

const FULL = new Set(['ENOSPC', 'EDQUOT'])

/** @throws {Problem} STORE_FULL or STORE_AWAY, with what is wrong with the folder */
export function refuse(error: NodeJS.ErrnoException): never {
  if (error instanceof Problem) throw error
  if (error.code !== undefined && FULL.has(error.code))
    throw new Problem(
      'STORE_FULL',
      'There is no room left for evidence. Agents keep theirs and send it when there is: make room in ' +
        'OAK_HOME/evidence, or keep it for fewer days under Settings, Retention.',
      undefined,
      { cause: error },
    )
  throw new Problem(
    'STORE_AWAY',
    `The evidence folder cannot be written (${error.code ?? error.name}). Agents keep theirs and ` +
      'send it when it can be.',
    undefined,
    { cause: error },
  )
}

/** Which of these hashes still have to be sent. */
export async function missingEvidence({ db }: Pick<Context, 'db'>, hashes: string[]): Promise<string[]> {
  const known = await knownEvidence(db, hashes)
  return hashes.filter((hash) => !known.has(hash))
}

/** Answers with the bytes (or the asked range: videos seek), in a way no browser will run. */
export async function serveEvidence(
  { db, evidence }: Pick<Context, 'db' | 'evidence'>,
  hash: string,
  {
    range = null,
    known = null,
  }: { range?: string | null; /** `If-None-Match`. */ known?: string | null } = {},
): Promise<Response> {
  const row = HASH.test(hash) ? await evidenceRow(db, hash) : undefined
  const size = row && (await evidence.size(hash))
  if (!row || size === undefined)
    throw new Problem('NOT_FOUND', 'This piece of evidence is not in the store.')
  const headers = new Headers({
    'content-type': row.mime === 'text/plain' ? 'text/plain; charset=utf-8' : row.mime,
    'x-content-type-options': 'nosniff',
    'content-security-policy': "default-src 'none'; sandbox",
    // Kept by the browser, and asked for again each time: who is signed out sees nothing of it any more.
    'cache-control': 'private, no-cache',
    etag: `"${hash}"`,
    vary: 'cookie',
    'accept-ranges': 'bytes',
  })
  if (known === headers.get('etag') && range === null) return new Response(null, { status: 304, headers })
  const asked = /^bytes=(\d+)-(\d*)$/.exec(range ?? '')
  const start = asked ? Number(asked[1]) : 0
  const end = asked?.[2] ? Math.min(Number(asked[2]), size - 1) : size - 1
  if (asked && start > end)
    return new Response(null, { status: 416, headers: { 'content-range': `bytes */${size}` } })
  headers.set('content-length', String(end - start + 1))
  if (asked) headers.set('content-range', `bytes ${start}-${end}/${size}`)
  return new Response(Readable.toWeb(evidence.read(hash, { start, end })) as ReadableStream, {
    status: asked ? 206 : 200,
    headers,
  })
}

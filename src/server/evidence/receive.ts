/** Evidence as it comes: straight to disk, its hash counted on the way, so that no upload is ever in memory
 * as a whole. */
import { addEvidence } from '@/db/evidence'
import type { Context } from '../context'
import { Problem } from '../http/problems'
import { refuse, requireKind } from './keep'
import { refuseOverQuota } from './quota'

/** A long video at its worst; a screen is a thousandth of it. */
const MOST_BYTES = 64_000_000

/** Keeps what comes under its hash.
 * @throws {Problem} as `keepEvidence`, STORE_FULL over the quota, BODY_TOO_LARGE; then nothing is kept */
export async function receiveEvidence(
  { db, evidence }: Pick<Context, 'db' | 'evidence'>,
  hash: string,
  mime: string,
  body: AsyncIterable<Uint8Array>,
): Promise<void> {
  requireKind(hash, mime)
  await refuseOverQuota({ db })
  // the file first: a row without a file would promise what is not there
  const kept = await evidence.receive(hash, limited(body)).catch(refuse)
  if (!kept.same) throw new Problem('EVIDENCE_DIFFERS')
  await addEvidence(db, { hash, mime, bytes: kept.bytes })
}

async function* limited(body: AsyncIterable<Uint8Array>): AsyncGenerator<Uint8Array> {
  let bytes = 0
  for await (const part of body) {
    bytes += part.length
    if (bytes > MOST_BYTES)
      throw new Problem('BODY_TOO_LARGE', `A piece of evidence has at most ${MOST_BYTES / 1_000_000} MB.`)
    yield part
  }
}

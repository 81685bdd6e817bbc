import { evidenceRow } from '@/db/evidence'
import type { Context } from '../context'
import { HASH } from './store'

/** A whole piece of evidence. @returns `undefined` when it is not in the store (any more) */
export async function pieceOf(
  { db, evidence }: Pick<Context, 'db' | 'evidence'>,
  hash: string,
): Promise<{ mime: string; bytes: Buffer } | undefined> {
  const row = HASH.test(hash) ? await evidenceRow(db, hash) : undefined
  if (!row || (await evidence.size(hash)) === undefined) return undefined
  const parts: Uint8Array[] = []
  for await (const part of evidence.read(hash)) parts.push(part as Uint8Array)
  return { mime: row.mime, bytes: Buffer.concat(parts) }
}

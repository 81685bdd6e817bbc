import type { Context } from '../context'
import { pieceOf } from '../evidence'

/** Pictures by their hash, as addresses of data; those that are not kept, or too many, are not among them. */
export async function picturesOf(
  ctx: Pick<Context, 'db' | 'evidence'>,
  hashes: Iterable<string>,
  most: { screens: number; bytes: number },
): Promise<Map<string, string>> {
  const pictures = new Map<string, string>()
  let bytes = 0
  for (const hash of hashes) {
    if (pictures.size >= most.screens) break
    const picture = await pieceOf(ctx, hash)
    if (!picture?.mime.startsWith('image/') || bytes + picture.bytes.length > most.bytes) continue
    bytes += picture.bytes.length
    pictures.set(hash, `data:${picture.mime};base64,${picture.bytes.toString('base64')}`)
  }
  return pictures
}

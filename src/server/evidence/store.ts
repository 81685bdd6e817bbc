/** Evidence by content: a file is named by the SHA-256 of its bytes, so the same screen is kept once. */
import { createHash, randomUUID } from 'node:crypto'
import { createReadStream } from 'node:fs'
import { mkdir, open, rename, rm, stat, writeFile } from 'node:fs/promises'
import { dirname, join } from 'node:path'
import type { Readable } from 'node:stream'

export const HASH = /^[0-9a-f]{64}$/
export const hashOf = (bytes: Uint8Array) => createHash('sha256').update(bytes).digest('hex')

export interface EvidenceStore {
  /** Keeps the bytes; doing so twice is the same as once. A reader never sees half a file. */
  put(hash: string, bytes: Uint8Array): Promise<void>
  /** Keeps what comes, if it has this hash; a file of others is never seen half. @returns whether it has, and
   * how many bytes came */
  receive(hash: string, parts: AsyncIterable<Uint8Array>): Promise<{ same: boolean; bytes: number }>
  /** @returns size in bytes, or `undefined` if it is not there */
  size(hash: string): Promise<number | undefined>
  /** Takes it away, so that it can be brought back until it is dropped; what is not there is fine. */
  putAside(hash: string): Promise<void>
  /** Brings back what was put aside, unless it was brought again. */
  bringBack(hash: string): Promise<void>
  /** Deletes what was put aside. */
  drop(hash: string): Promise<void>
  /** @param range first and last byte, both included */
  read(hash: string, range?: { start: number; end: number }): Readable
}

export function fileEvidenceStore(folder: string): EvidenceStore {
  const pathOf = (hash: string) => join(folder, hash.slice(0, 2), hash.slice(2))
  const asideOf = (hash: string) => `${pathOf(hash)}.aside`
  return {
    async put(hash, bytes) {
      const path = pathOf(hash)
      const draft = `${path}.${randomUUID()}`
      await mkdir(dirname(path), { recursive: true })
      await writeFile(draft, bytes)
      await rename(draft, path)
    },
    async receive(hash, parts) {
      const path = pathOf(hash)
      const draft = `${path}.${randomUUID()}`
      await mkdir(dirname(path), { recursive: true })
      const sum = createHash('sha256')
      const file = await open(/*turbopackIgnore: true*/ draft, 'w')
      let bytes = 0
      try {
        for await (const part of parts) {
          bytes += part.length
          sum.update(part)
          await file.write(part)
        }
        await file.close()
        const same = sum.digest('hex') === hash
        if (same) await rename(draft, path)
        else await rm(draft, { force: true })
        return { same, bytes }
      } catch (error) {
        await file.close().catch(() => {})
        await rm(draft, { force: true })
        throw error
      }
    },
    size: async (hash) => (await stat(pathOf(hash)).catch(() => undefined))?.size,
    putAside: async (hash) => rename(pathOf(hash), asideOf(hash)).catch(unlessMissing),
    bringBack: async (hash) => rename(asideOf(hash), pathOf(hash)).catch(unlessMissing),
    drop: async (hash) => rm(asideOf(hash), { force: true }),
    read: (hash, range) => createReadStream(pathOf(hash), range),
  }
}

function unlessMissing(error: NodeJS.ErrnoException): void {
  if (error.code !== 'ENOENT') throw error
}

/** Evidence by content: a file is named by the SHA-256 of its bytes, so the same screen is kept once. */
import { createHash, randomUUID } from 'node:crypto'
import { createReadStream } from 'node:fs'
import { mkdir, rename, rm, stat, writeFile } from 'node:fs/promises'
import { dirname, join } from 'node:path'
import type { Readable } from 'node:stream'

export const HASH = /^[0-9a-f]{64}$/
export const hashOf = (bytes: Uint8Array) => createHash('sha256').update(bytes).digest('hex')

export interface EvidenceStore {
  /** Keeps the bytes; doing so twice is the same as once. A reader never sees half a file. */
  put(hash: string, bytes: Uint8Array): Promise<void>
  /** @returns size in bytes, or `undefined` if it is not there */
  size(hash: string): Promise<number | undefined>
  /** Deletes it; what is not there is fine. */
  drop(hash: string): Promise<void>
  /** @param range first and last byte, both included */
  read(hash: string, range?: { start: number; end: number }): Readable
}

export function fileEvidenceStore(folder: string): EvidenceStore {
  const pathOf = (hash: string) => join(folder, hash.slice(0, 2), hash.slice(2))
  return {
    async put(hash, bytes) {
      const path = pathOf(hash)
      const draft = `${path}.${randomUUID()}`
      await mkdir(dirname(path), { recursive: true })
      await writeFile(draft, bytes)
      await rename(draft, path)
    },
    size: async (hash) => (await stat(pathOf(hash)).catch(() => undefined))?.size,
    drop: async (hash) => rm(pathOf(hash), { force: true }),
    read: (hash, range) => createReadStream(pathOf(hash), range),
  }
}

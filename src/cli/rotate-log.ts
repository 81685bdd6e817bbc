/** Logs that processes go on writing to, kept at a size. */
import {
  appendFileSync,
  closeSync,
  existsSync,
  ftruncateSync,
  openSync,
  readSync,
  renameSync,
  rmSync,
  statSync,
} from 'node:fs'

const MOST_BYTES = 10_000_000
const KEPT = 4
const CHUNK_BYTES = 1 << 20

/** Moves what is in a log to its first older file when it is large, and empties it. Who writes to it opened
 * it for appending, so what comes next stands at its new beginning; what comes while it is copied is copied
 * too. */
export function rotateLog(file: string, mostBytes = MOST_BYTES): void {
  if (!existsSync(file) || statSync(file).size < mostBytes) return
  rmSync(`${file}.${KEPT}`, { force: true })
  for (let n = KEPT - 1; n >= 1; n--)
    if (existsSync(`${file}.${n}`)) renameSync(`${file}.${n}`, `${file}.${n + 1}`)
  const from = openSync(file, 'r+')
  try {
    const chunk = Buffer.alloc(CHUNK_BYTES)
    for (let at = 0; ;) {
      const read = readSync(from, chunk, 0, CHUNK_BYTES, at)
      if (read === 0) break
      appendFileSync(`${file}.1`, chunk.subarray(0, read))
      at += read
    }
    ftruncateSync(from, 0)
  } finally {
    closeSync(from)
  }
}

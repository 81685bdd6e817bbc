/** The log of an attempt as one piece: its events as JSON, by Brotli (RFC 7932). */
import { brotliCompress, brotliDecompress, brotliDecompressSync, constants } from 'node:zlib'
import { promisify } from 'node:util'
import type { NumberedEvent } from '@/core/execution'

const compress = promisify(brotliCompress)
const decompress = promisify(brotliDecompress)
/** Of 11: those above take ten times as long for a tenth less. */
const QUALITY = 5
/** A log that says more was not written by us. */
const BYTES_MOST = 400_000_000

/** @param log events as a JSON array */
export async function packLog(log: string): Promise<Buffer> {
  const text = Buffer.from(log)
  return compress(text, {
    params: {
      [constants.BROTLI_PARAM_QUALITY]: QUALITY,
      [constants.BROTLI_PARAM_MODE]: constants.BROTLI_MODE_TEXT,
      [constants.BROTLI_PARAM_SIZE_HINT]: text.length,
    },
  })
}

const read = (text: Buffer) => JSON.parse(text.toString()) as NumberedEvent[]
const limits = { maxOutputLength: BYTES_MOST }

export const unpackLog = async (piece: Uint8Array): Promise<NumberedEvent[]> =>
  read(await decompress(piece, limits))
/** A log as it is read from the database. `isPacked`: else it is JSON. */
export type LogBytes = { bytes: Uint8Array; isPacked: boolean }
export const readLog = async ({ bytes, isPacked }: LogBytes): Promise<NumberedEvent[]> =>
  isPacked ? unpackLog(bytes) : read(Buffer.from(bytes))
/** In a thread that has nothing else to do. */
export const readLogAtOnce = ({ bytes, isPacked }: LogBytes): NumberedEvent[] =>
  read(isPacked ? brotliDecompressSync(bytes, limits) : Buffer.from(bytes))

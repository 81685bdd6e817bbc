/** The body of a request as a stream, with back-pressure and a time limit for silence. */
import { Problem } from './problems'

/** A body of which nothing arrives for this long is refused. */
const SILENT_MS = 20_000

type Body = AsyncIterable<Uint8Array> | ReadableStream<Uint8Array> | null

/** @throws {Problem} TOO_SLOW */
export async function* partsOf(body: Body, silentMs = SILENT_MS): AsyncGenerator<Uint8Array> {
  if (!body) return
  const parts = (body as AsyncIterable<Uint8Array>)[Symbol.asyncIterator]()
  try {
    for (;;) {
      const next = await within(parts.next(), silentMs)
      if (next.done) return
      yield next.value
    }
  } finally {
    void parts.return?.()?.catch(() => {})
  }
}

async function within<T>(work: Promise<T>, ms: number): Promise<T> {
  let timer: NodeJS.Timeout | undefined
  const late = new Promise<never>((_, reject) => {
    timer = setTimeout(
      () => reject(new Problem('TOO_SLOW', `Nothing came for ${ms / 1000} s. Nothing was changed.`)),
      ms,
    )
  })
  work.catch(() => {})
  try {
    return await Promise.race([work, late])
  } finally {
    clearTimeout(timer)
  }
}

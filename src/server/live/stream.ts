import type { LiveHub } from './hub'

/** Changes of one quarter second go out together: a busy run changes hundreds of times a second, an eye sees
 * four. */
const GATHER_MS = 250
const KEEP_ALIVE_MS = 15_000

/** Server-Sent Events: each message is a JSON list of "topic:id" that changed; "beat" says that it is still
 * there.
 * @param mayGoOn asked with each beat: a stream ends with the session it was opened in */
export function liveStream(
  hub: LiveHub,
  signal: AbortSignal,
  mayGoOn: () => Promise<boolean> = async () => true,
): Response {
  const encoder = new TextEncoder()
  let stop = () => {}
  const body = new ReadableStream<Uint8Array>({
    start(controller) {
      const changed = new Set(hub.recent())
      let timer: ReturnType<typeof setTimeout> | undefined
      const send = (text: string) => controller.enqueue(encoder.encode(text))
      const flush = () => {
        timer = undefined
        send(`data: ${JSON.stringify([...changed])}\n\n`)
        changed.clear()
      }
      const off = hub.on((change) => {
        changed.add(`${change.topic}:${change.id}`)
        timer ??= setTimeout(flush, GATHER_MS)
      })
      const beat = setInterval(() => {
        void mayGoOn()
          .then(
            (goesOn) => {
              send(goesOn ? 'event: beat\ndata: {}\n\n' : 'event: signed-out\ndata: {}\n\n')
              if (!goesOn) end()
            },
            () => send('event: beat\ndata: {}\n\n'), // the database is away, and nobody was signed out
          )
          .catch(() => stop()) // the reader left in between
      }, KEEP_ALIVE_MS)
      const end = () => {
        stop()
        try {
          controller.close()
        } catch {} // the reader closed it first
      }
      stop = () => {
        off()
        clearInterval(beat)
        clearTimeout(timer)
      }
      signal.addEventListener('abort', end)
      send('retry: 1000\n\n')
      if (changed.size > 0) flush()
    },
    cancel: () => stop(),
  })
  return new Response(body, {
    headers: {
      'content-type': 'text/event-stream; charset=utf-8',
      'cache-control': 'no-store, no-transform',
      'x-accel-buffering': 'no',
    },
  })
}

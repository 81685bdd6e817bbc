/** The connection by which the server tells what changed. It is made anew whenever it ends, whatever it ended
 * by, and one of which nothing is heard counts as ended: a line that was cut says nothing. */
import { setNotLiveSince } from '../base/live-state'

/** The server says something at least every 15 s. */
const SILENT_MS = 35_000
/** Shorter breaks are not worth a word. */
const NOT_LIVE_AFTER_MS = 2500
const AGAIN_MS = [500, 1000, 2000, 5000]

export type LiveListener = {
  changed(names: string[]): void
  /** It was away: everything may have changed. */ back(): void
  signedOut(): void
  /** It was answered, and with no: perhaps nobody is signed in any more. */ refused(): void
}

/** @returns what ends it */
export function openLive(address: string, { changed, back, signedOut, refused }: LiveListener): () => void {
  let source: EventSource | undefined
  let heardAt = Date.now()
  let tries = 0
  let opened = false
  let again: ReturnType<typeof setTimeout> | undefined

  const heard = () => {
    heardAt = Date.now()
    tries = 0
    setNotLiveSince(undefined)
  }
  const connect = () => {
    source?.close()
    source = new EventSource(address)
    source.onopen = () => {
      heard()
      if (opened) back()
      opened = true
    }
    source.onmessage = ({ data }) => {
      heard()
      changed(JSON.parse(String(data)) as string[])
    }
    source.addEventListener('beat', heard)
    source.addEventListener('signed-out', signedOut)
    source.onerror = () => {
      if (source?.readyState === EventSource.CLOSED) refused()
      retry()
    }
  }
  const retry = () => {
    source?.close()
    clearTimeout(again)
    again = setTimeout(connect, AGAIN_MS[Math.min(tries++, AGAIN_MS.length - 1)])
  }
  const watch = setInterval(() => {
    const silentMs = Date.now() - heardAt
    const isOpen = source?.readyState === EventSource.OPEN
    if (!isOpen && silentMs > NOT_LIVE_AFTER_MS) setNotLiveSince(heardAt)
    if (isOpen && silentMs > SILENT_MS) {
      setNotLiveSince(heardAt)
      retry()
    }
  }, 500)
  connect()
  return () => {
    clearInterval(watch)
    clearTimeout(again)
    source?.close()
  }
}

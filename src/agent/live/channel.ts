/** The agent's line to the server while a session is live: a WebSocket that the agent opens itself, so it
 * works from behind any router. It is opened again when it breaks. */
import { WebSocket } from 'ws'
import { frameOf, type LiveOrder, type LiveWord } from '@/core/live'

export interface LiveChannel {
  say(word: LiveWord): void
  frame(jpeg: Uint8Array, width: number, height: number): void
  /** Each order that comes, in order. */
  onOrder: ((order: LiveOrder) => void) | undefined
  /** The line is there, for the first time or again: whoever looks knows nothing. */
  onOpen: (() => void) | undefined
  close(): void
}

/** `url`: ws: or wss:. */
export type LiveLine = { url: string; headers: Record<string, string> }

const AGAIN_FIRST_MS = 250
const AGAIN_MOST_MS = 4000
const ORDER_BYTES_MOST = 2_000_000
/** A line that is slower than the page does not get each picture; the last one comes, for a page that rests
 * makes no other. */
const WAITING_MOST_BYTES = 600_000
const BEHIND_MS = 200

export function openChannel(line: LiveLine): LiveChannel {
  let socket: WebSocket
  let [closed, waitMs] = [false, AGAIN_FIRST_MS]
  let timer: NodeJS.Timeout | undefined
  /** The newest one, and whether it was sent over the line there is: one that breaks loses what was sent
   * last. */
  let picture: Uint8Array | undefined
  let isSent = false
  let behind: NodeJS.Timeout | undefined
  const sendPicture = () => {
    if (!picture || isSent || socket.readyState !== WebSocket.OPEN) return
    if (socket.bufferedAmount < WAITING_MOST_BYTES) {
      socket.send(picture)
      isSent = true
    } else
      behind ??= setTimeout(() => {
        behind = undefined
        sendPicture()
      }, BEHIND_MS)
  }
  const channel: LiveChannel = {
    onOrder: undefined,
    onOpen: undefined,
    say: (word) => socket.readyState === WebSocket.OPEN && socket.send(JSON.stringify(word)),
    frame: (jpeg, width, height) => {
      picture = frameOf(width, height, jpeg)
      isSent = false
      sendPicture()
    },
    close: () => {
      closed = true
      clearTimeout(timer)
      clearTimeout(behind)
      socket.close()
    },
  }
  const connect = () => {
    socket = new WebSocket(line.url, {
      headers: line.headers,
      maxPayload: ORDER_BYTES_MOST,
      perMessageDeflate: false,
    })
    socket.on('open', () => {
      waitMs = AGAIN_FIRST_MS
      channel.onOpen?.()
      isSent = false
      sendPicture()
    })
    socket.on('message', (data, isBinary) => {
      if (!isBinary) channel.onOrder?.(JSON.parse(String(data as Buffer)) as LiveOrder)
    })
    socket.on('error', () => {}) // 'close' follows
    socket.on('close', () => {
      if (closed) return
      timer = setTimeout(connect, waitMs)
      waitMs = Math.min(waitMs * 2, AGAIN_MOST_MS)
    })
  }
  connect()
  return channel
}

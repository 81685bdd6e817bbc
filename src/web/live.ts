/** WebSockets of live sessions: an agent's, opened by itself with its token, and those of people, from our
 * own pages. */
import type { IncomingMessage } from 'node:http'
import type { Duplex } from 'node:stream'
import { WebSocket, WebSocketServer, type RawData } from 'ws'
import { context } from '@/server/context'
import { requireHeld } from '@/server/dispatch'
import { Problem, PROBLEMS } from '@/server/http/problems'
import { isSameOrigin, readUuid } from '@/server/http/route'
import {
  followLines,
  forgetLine,
  lineElsewhere,
  noteLine,
  requireGoingOn,
  roomOf,
  type Line,
} from '@/server/live-sessions'
import { isSessionOpen, may, personOf, requireAgent } from '@/server/people'
import { guardUpgrade } from './guard'

const AGENT_PATH = /^\/api\/agents\/([^/]+)\/attempts\/([^/]+)\/live$/
const PERSON_PATH = /^\/api\/live-sessions\/([^/]+)\/line$/
const MESSAGE_MOST_BYTES = 4_500_000
/** A line that says nothing for so long is looked after; one that does not answer is gone. */
const BEAT_MS = 15_000
/** Messages that wait until the other process answers, and bytes that wait before pictures are left out. */
const [EARLY_MOST, WAITING_MOST_BYTES] = [100, 600_000]

/** RFC 6455 and the registry of its close codes: a policy is broken; the service begins anew. */
const [NOT_ALLOWED, COME_AGAIN] = [1008, 1012]

const server = new WebSocketServer({
  noServer: true,
  maxPayload: MESSAGE_MOST_BYTES,
  perMessageDeflate: false,
})

/** Answers requests for WebSockets; what is none of ours is refused.
 * @param own the address at which other web processes reach this one */
export function liveLines(own: string) {
  followLines(context())
  return (incoming: IncomingMessage, socket: Duplex, head: Buffer): void =>
    upgrade(own, incoming, socket, head)
}

function upgrade(own: string, incoming: IncomingMessage, socket: Duplex, head: Buffer): void {
  const refuse = (status: number) =>
    void socket.end(`HTTP/1.1 ${status} Refused\r\nconnection: close\r\n\r\n`)
  if (!guardUpgrade(incoming)) return refuse(400)
  socket.on('error', () => socket.destroy())
  void joining(own, incoming)
    .then((join) =>
      server.handleUpgrade(incoming, socket, head, (line) => {
        join(line)
      }),
    )
    .catch((error: unknown) => refuse(error instanceof Problem ? PROBLEMS[error.code].status : 500))
}

/** Who it is, and what becomes of their line. @throws {Problem} */
async function joining(own: string, incoming: IncomingMessage): Promise<(line: WebSocket) => void> {
  const url = new URL(incoming.url!, 'http://oak')
  const headers = new Headers(
    Object.entries(incoming.headers).flatMap(([name, value]) =>
      value === undefined ? [] : [[name, [value].flat().join(', ')] as [string, string]],
    ),
  )
  const ofAgent = AGENT_PATH.exec(url.pathname)
  if (ofAgent) {
    const agent = await requireAgent({ headers }, ofAgent[1]!)
    const attemptId = readUuid(ofAgent[2]!)
    const lease = Number(url.searchParams.get('lease'))
    await requireHeld(context(), { agentId: agent.id, attemptId, lease })
    const hold = { agentId: agent.id, attemptId, lease }
    return (line) => {
      lookAfter(line, () => requireHeld(context(), hold))
      joinAgent(own, attemptId, line)
    }
  }
  const ofPerson = PERSON_PATH.exec(url.pathname)
  if (!ofPerson) throw new Problem('NOT_FOUND')
  const person = await personOf(headers)
  if (!person) throw new Problem('SIGN_IN_FIRST')
  // the only thing that keeps another site's pages from using the cookie: no other rule of browsers does
  if (!headers.get('origin') || !isSameOrigin({ headers } as Request)) throw new Problem('ORIGIN_FOREIGN')
  const attemptId = readUuid(ofPerson[1]!)
  await requireGoingOn(context(), attemptId)
  const elsewhere = await lineElsewhere(context(), attemptId, own)
  if (elsewhere) return (line) => leadTo(elsewhere, url.pathname, headers.get('cookie') ?? '', line)
  return (line) => {
    lookAfter(line, async () => {
      if (!(await isSessionOpen(context().db, person.sessionId))) throw new Problem('SIGN_IN_FIRST')
    })
    joinPerson(attemptId, { name: person.name, mayDrive: may(person, 'tester') }, line)
  }
}

function joinAgent(own: string, attemptId: string, socket: WebSocket): void {
  const room = roomOf(context(), attemptId)
  const line = lineOf(socket)
  room.agentCame(line)
  void noteLine(context(), attemptId, own).catch(() => {})
  socket.on('close', () => void forgetLine(context(), attemptId, own).catch(() => {}))
  socket.on('message', (data, isBinary) => room.agentSaid(line, messageOf(data, isBinary)))
  socket.on('close', () => room.agentLeft(line))
}

function joinPerson(
  attemptId: string,
  visitor: { name: string; mayDrive: boolean },
  socket: WebSocket,
): void {
  const room = roomOf(context(), attemptId)
  const id = room.personCame(visitor, lineOf(socket))
  if (id === undefined) return socket.close(1013, 'too many look at this session')
  socket.on('message', (data, isBinary) => {
    if (!isBinary) void room.personSaid(id, String(messageOf(data, false)))
  })
  socket.on('close', () => room.personLeft(id))
}

/** The person's line goes on to another web process, which asks once more who they are. */
function leadTo(address: string, path: string, cookie: string, socket: WebSocket): void {
  const onward = new WebSocket(`${address.replace(/^http/, 'ws')}${path}`, {
    headers: { cookie, origin: address },
    maxPayload: MESSAGE_MOST_BYTES,
    perMessageDeflate: false,
  })
  lookAfter(socket, async () => {})
  const early: string[] = []
  socket.on('message', (data, isBinary) => {
    if (isBinary) return
    const text = String(messageOf(data, false))
    if (onward.readyState === WebSocket.OPEN) onward.send(text)
    else if (early.length < EARLY_MOST) early.push(text)
  })
  onward.on('open', () => early.splice(0).forEach((text) => onward.send(text)))
  onward.on('message', (data, isBinary) => {
    const isBehind = isBinary && socket.bufferedAmount > WAITING_MOST_BYTES
    if (!isBehind) lineOf(socket).send(messageOf(data, isBinary))
  })
  onward.on('error', () => {}) // 'close' follows
  onward.on('close', () => socket.close(COME_AGAIN, 'the other process is gone'))
  socket.on('close', () => onward.close())
}

const messageOf = (data: RawData, isBinary: boolean): string | Uint8Array => {
  const bytes = Array.isArray(data) ? Buffer.concat(data) : Buffer.from(data as Buffer)
  return isBinary ? bytes : bytes.toString('utf8')
}

const lineOf = (socket: WebSocket): Line => ({
  send: (message) => {
    if (socket.readyState === socket.OPEN) socket.send(message)
  },
  get waiting() {
    return socket.bufferedAmount
  },
  close: (why, again = false) => socket.close(again ? COME_AGAIN : NOT_ALLOWED, why),
})

/** Ends a line whose other end is gone, or who may not be here any more.
 * @param allowed throws then */
function lookAfter(socket: WebSocket, allowed: () => Promise<unknown>): void {
  let answered = true
  const beat = setInterval(() => {
    if (!answered) return socket.terminate()
    answered = false
    socket.ping()
    void allowed().catch((error: unknown) => {
      if (error instanceof Problem) socket.close(NOT_ALLOWED, 'not allowed any more')
    })
  }, BEAT_MS)
  socket.on('pong', () => (answered = true))
  socket.on('error', () => {}) // 'close' follows
  socket.on('close', () => clearInterval(beat))
}

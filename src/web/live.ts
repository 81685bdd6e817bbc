/** WebSockets of live sessions: an agent's, opened by itself with its token, and those of people, from our
 * own pages. */
import type { IncomingMessage } from 'node:http'
import type { Duplex } from 'node:stream'
import { WebSocketServer, type RawData, type WebSocket } from 'ws'
import { context } from '@/server/context'
import { requireHeld } from '@/server/dispatch'
import { Problem, PROBLEMS } from '@/server/http/problems'
import { isSameOrigin, readUuid } from '@/server/http/route'
import { requireGoingOn, roomOf, type Line } from '@/server/live-sessions'
import { isSessionOpen, may, personOf, requireAgent } from '@/server/people'
import { guardUpgrade } from './guard'

const AGENT_PATH = /^\/api\/agents\/([^/]+)\/attempts\/([^/]+)\/live$/
const PERSON_PATH = /^\/api\/live-sessions\/([^/]+)\/line$/
const MESSAGE_MOST_BYTES = 4_500_000
/** A line that says nothing for so long is looked after; one that does not answer is gone. */
const BEAT_MS = 15_000

const server = new WebSocketServer({
  noServer: true,
  maxPayload: MESSAGE_MOST_BYTES,
  perMessageDeflate: false,
})

/** Answers a request for a WebSocket; what is none of ours is refused. */
export function upgradeLive(incoming: IncomingMessage, socket: Duplex, head: Buffer): void {
  const refuse = (status: number) =>
    void socket.end(`HTTP/1.1 ${status} Refused\r\nconnection: close\r\n\r\n`)
  if (!guardUpgrade(incoming)) return refuse(400)
  socket.on('error', () => socket.destroy())
  void joining(incoming)
    .then((join) =>
      server.handleUpgrade(incoming, socket, head, (line) => {
        join(line)
      }),
    )
    .catch((error: unknown) => refuse(error instanceof Problem ? PROBLEMS[error.code].status : 500))
}

/** Who it is, and what becomes of their line. @throws {Problem} */
async function joining(incoming: IncomingMessage): Promise<(line: WebSocket) => void> {
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
      joinAgent(attemptId, line)
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
  return (line) => {
    lookAfter(line, async () => {
      if (!(await isSessionOpen(context().db, person.sessionId))) throw new Problem('SIGN_IN_FIRST')
    })
    joinPerson(attemptId, { name: person.name, mayDrive: may(person, 'tester') }, line)
  }
}

function joinAgent(attemptId: string, socket: WebSocket): void {
  const room = roomOf(context(), attemptId)
  const line = lineOf(socket)
  room.agentCame(line)
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
  close: (why) => socket.close(1008, why),
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
      if (error instanceof Problem) socket.close(1008, 'not allowed any more')
    })
  }, BEAT_MS)
  socket.on('pong', () => (answered = true))
  socket.on('error', () => {}) // 'close' follows
  socket.on('close', () => clearInterval(beat))
}

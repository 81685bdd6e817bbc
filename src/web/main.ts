/** The web process: pages and their API by Next.js, the agent protocol beside it, on one port. */
import { createServer } from 'node:http'
import next from 'next'
import { context } from '@/server/context'
import { agentRoutes } from './agents'
import { guard } from './guard'
import { Health } from './health'
import { liveLines } from './live'
import { answerBy } from './serve'
import { inTurns } from './turns'

const flag = (name: string, usual: string) => process.argv[process.argv.indexOf(name) + 1 || -1] ?? usual
const [port, hostname] = [Number(flag('--port', '4600')), flag('--host', '127.0.0.1')]

/** How long the headers of a request may take to come, and all of it: a large result file on a slow line. */
const [HEADERS_MS, BODY_MS] = [15_000, 600_000]
const HEADER_BYTES = 32_768
const LISTEN_AGAIN_MS = 500
/** Connections that may wait while the process is busy: all seats of a large fleet come back at once after a
 * restart, and whoever the system's queue has no room for waits seconds longer. */
const WAITING_CONNECTIONS = 2048

/** Where other web processes reach this one; of processes on several machines OAK_WEB_ADDRESS says it. */
const ownAddress = (host: string, at: number): string =>
  process.env.OAK_WEB_ADDRESS?.replace(/\/$/, '') ??
  `http://${host === '0.0.0.0' || host === '::' ? '127.0.0.1' : host}:${at}`

context() // made here, so that pages and agents share it
const app = next({ dev: false, dir: process.env.OAK_ROOT ?? process.cwd(), port, hostname })
const pages = app.getRequestHandler()
await app.prepare()

const agents = answerBy(agentRoutes)
const begin = inTurns()
const health = new Health(context().connection.url)
const limits = {
  headersTimeout: HEADERS_MS,
  requestTimeout: BODY_MS,
  maxHeaderSize: HEADER_BYTES,
  connectionsCheckingInterval: 5000,
}
const server = createServer(limits, (incoming, outgoing) => {
  if (guard(incoming, outgoing)) return
  if (incoming.url!.split('?', 1)[0] === '/api/health') return health.answer(outgoing)
  if (agents(incoming, outgoing)) return
  begin(() => {
    if (!outgoing.destroyed) void pages(incoming, outgoing) // else who asked has gone meanwhile
  })
})
server.on('upgrade', liveLines(ownAddress(hostname, port)))
// longer than agents keep a connection they do not use: it is never closed under a request
server.keepAliveTimeout = 65_000

/** Another process may still have the port, for a moment: it is tried anew, for as long as it takes. */
function listen(): void {
  server.listen({ port, host: hostname, backlog: WAITING_CONNECTIONS })
}
server.on('error', (error: NodeJS.ErrnoException) => {
  if (error.code !== 'EADDRINUSE') throw error
  console.error(new Date().toISOString(), `port ${port} is taken; it is tried again`)
  setTimeout(listen, LISTEN_AGAIN_MS)
})
listen()

let ending = false
for (const signal of ['SIGTERM', 'SIGINT'] as const) {
  process.on(signal, () => {
    if (ending) return
    ending = true
    health.end()
    server.close()
    server.closeAllConnections() // long polls and live streams: who asked asks again
    void context()
      .notifier.flush()
      .then(() => process.exit())
  })
}

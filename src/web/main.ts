/** The web process: pages and their API by Next.js, the agent protocol beside it, on one port. */
import { createServer } from 'node:http'
import next from 'next'
import { context } from '@/server/context'
import { agentRoutes } from './agents'
import { answerBy } from './serve'

const flag = (name: string, usual: string) => process.argv[process.argv.indexOf(name) + 1 || -1] ?? usual
const [port, hostname] = [Number(flag('--port', '4600')), flag('--host', '127.0.0.1')]

context() // made here, so that pages and agents share it
const app = next({ dev: false, dir: process.env.OAK_ROOT ?? process.cwd(), port, hostname })
const pages = app.getRequestHandler()
await app.prepare()

const agents = answerBy(agentRoutes)
const server = createServer((incoming, outgoing) => {
  if (!agents(incoming, outgoing)) void pages(incoming, outgoing)
})
server.keepAliveTimeout = 65_000 // longer than agents keep a connection they do not use: it is never closed under a request
server.listen(port, hostname)

let ending = false
for (const signal of ['SIGTERM', 'SIGINT'] as const) {
  process.on(signal, () => {
    if (ending) return
    ending = true
    server.close()
    server.closeAllConnections() // long polls and live streams: who asked asks again
    void context().herald.flush().then(() => process.exit())
  })
}

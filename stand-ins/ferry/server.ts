/** The four applications behind one address: /b/BUILD/APPLICATION/... */
import { randomUUID } from 'node:crypto'
import type { IncomingMessage, Server } from 'node:http'
import { booking } from './booking'
import { desk } from './desk'
import { BUILDS, isSurprises, type Surprises } from './faults'
import { gate } from './gate'
import { cookiesOf, json, listen, page, readForm, send, type Answer, type Ask } from './http'
import { manifest } from './manifest'
import { FerryStore, type Session } from './store'

/** `surprises`: what may happen now and then. It can be changed while running by
 * POST /control/surprises?are=all|instant|none; without `are` it is again as at the start. */
export type FerryOptions = { port: number; databaseUrl: string; seed: string; surprises?: Surprises }

export async function startFerry(options: FerryOptions): Promise<Server> {
  const { port, databaseUrl, seed, surprises = 'all' } = options
  const store = await FerryStore.open(databaseUrl)
  const state = { surprises }
  const server = await listen(port, async (request, response) => {
    const url = new URL(request.url ?? '/', 'http://ferry')
    if (url.pathname === '/health') return send(response, json({ ok: true }))
    if (url.pathname === '/control/surprises' && request.method === 'POST') {
      const are = url.searchParams.get('are')
      state.surprises = isSurprises(are) ? are : surprises
      return send(response, json(state))
    }
    const [, build, app, path] = /^\/b\/([^/]+)\/(booking|desk|gate|manifest)(\/.*)$/.exec(url.pathname) ?? []
    if (!build || !app || !path || !BUILDS.includes(build))
      return send(response, page('<h1>Not found</h1>', 404))
    const ask = await readAsk(request, url, build, path)
    const { session, setCookie } = await sessionOf(store, ask)
    const here = { ask, session, store, seed, today: new Date(), surprises: state.surprises }
    const answer: Answer = await { booking, desk, gate, manifest }[app as 'booking'](here)
    send(response, { ...answer, ...(setCookie && { setCookie }) })
  })
  server.on('close', () => void store.close())
  return server
}

async function readAsk(request: IncomingMessage, url: URL, build: string, path: string): Promise<Ask> {
  const form = new URLSearchParams(request.method === 'POST' ? await readForm(request) : '')
  return {
    method: request.method ?? 'GET',
    build,
    path,
    query: url.searchParams,
    form,
    userAgent: request.headers['user-agent'] ?? '',
    cookies: cookiesOf(request),
  }
}

async function sessionOf(store: FerryStore, ask: Ask): Promise<{ session: Session; setCookie?: string }> {
  const known = await store.session(ask.cookies.ferry, ask.build)
  if (known) return { session: known }
  const session = await store.newSession(randomUUID(), ask.build)
  return { session, setCookie: `ferry=${session.id}; Path=/b/${ask.build}/; HttpOnly; SameSite=Lax` }
}

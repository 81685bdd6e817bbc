/** The four applications behind one address: /b/BUILD/APPLICATION/... */
import { randomUUID } from 'node:crypto'
import type { IncomingMessage, Server } from 'node:http'
import { booking } from './booking'
import { desk } from './desk'
import { BUILDS } from './faults'
import { gate } from './gate'
import { cookiesOf, json, listen, page, readForm, send, type Answer, type Ask } from './http'
import { manifest } from './manifest'
import { FerryStore, type Session } from './store'

/** `calm`: nothing is slow on purpose. Can be changed while running by POST /control/calm?on=yes|no. */
export type FerryOptions = { port: number; databaseUrl: string; seed: string; calm?: boolean }

export async function startFerry({ port, databaseUrl, seed, calm = false }: FerryOptions): Promise<Server> {
  const store = await FerryStore.open(databaseUrl)
  const state = { calm }
  const server = await listen(port, async (request, response) => {
    const url = new URL(request.url ?? '/', 'http://ferry')
    if (url.pathname === '/health') return send(response, json({ ok: true }))
    if (url.pathname === '/control/calm' && request.method === 'POST') {
      state.calm = url.searchParams.get('on') === 'yes'
      return send(response, json(state))
    }
    const [, build, app, path] = /^\/b\/([^/]+)\/(booking|desk|gate|manifest)(\/.*)$/.exec(url.pathname) ?? []
    if (!build || !app || !path || !BUILDS.includes(build))
      return send(response, page('<h1>Not found</h1>', 404))
    const ask = await readAsk(request, url, build, path)
    const { session, setCookie } = await sessionOf(store, ask)
    const here = { ask, session, store, seed, today: new Date(), calm: state.calm }
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

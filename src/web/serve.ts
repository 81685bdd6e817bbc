/** A small router for the agent protocol. It does without the work a page framework does for each request:
 * agents send hundreds of requests a second. */
import type { IncomingMessage, ServerResponse } from 'node:http'
import { answered, type Asked } from '@/server/http/route'

export type Params = Record<string, string>
/** `path` with ":name" for what differs. */
export type Route = { method: string; path: string; answer(asked: Asked, params: Params): Promise<Response> }

/** @returns a handler; it returns false for requests that match no route */
export function answerBy(
  routes: readonly Route[],
): (incoming: IncomingMessage, outgoing: ServerResponse) => boolean {
  const table = routes.map((route) => ({ ...route, parts: route.path.split('/') }))
  return (incoming, outgoing) => {
    const path = incoming.url!.split('?', 1)[0]!.split('/')
    for (const { method, parts, answer } of table) {
      if (method !== incoming.method) continue
      const params = paramsOf(parts, path)
      if (!params) continue
      const asked = askedBy(incoming, outgoing)
      void answered(asked, () => answer(asked, params))
        .then((response) => send(outgoing, response))
        .catch(() => outgoing.destroy()) // the client has disconnected
      return true
    }
    return false
  }
}

function paramsOf(parts: readonly string[], path: readonly string[]): Params | undefined {
  if (parts.length !== path.length) return undefined
  const params: Params = {}
  for (let i = 0; i < parts.length; i++) {
    if (parts[i]!.startsWith(':')) params[parts[i]!.slice(1)] = path[i]!
    else if (parts[i] !== path[i]) return undefined
  }
  return params
}

function askedBy(incoming: IncomingMessage, outgoing: ServerResponse): Asked {
  const gone = new AbortController()
  outgoing.once('close', () => outgoing.writableFinished || gone.abort())
  return {
    method: incoming.method!,
    url: `http://${incoming.headers.host ?? 'oak'}${incoming.url!}`,
    body: incoming as AsyncIterable<Uint8Array>,
    signal: gone.signal,
    headers: { get: (name) => [incoming.headers[name]].flat()[0] ?? null },
  }
}

async function send(outgoing: ServerResponse, response: Response): Promise<void> {
  const body = response.body === null ? undefined : Buffer.from(await response.arrayBuffer())
  outgoing.writeHead(response.status, {
    ...Object.fromEntries(response.headers),
    ...(body && { 'content-length': body.length }),
  })
  outgoing.end(body)
}

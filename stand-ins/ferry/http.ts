/** The little of a web framework that the ferry applications need. */
import { createServer, type IncomingMessage, type Server, type ServerResponse } from 'node:http'

export type Ask = {
  method: string
  build: string
  /** Path within the application, "/sailings". */
  path: string
  query: URLSearchParams
  form: URLSearchParams
  userAgent: string
  cookies: Record<string, string>
}
export type Answer = {
  status: number
  headers?: Record<string, string>
  body: string | Buffer
  setCookie?: string
}

export const page = (body: string, status = 200): Answer => ({
  status,
  body,
  headers: { 'content-type': 'text/html; charset=utf-8' },
})
export const json = (value: unknown, status = 200): Answer => ({
  status,
  body: JSON.stringify(value),
  headers: { 'content-type': 'application/json' },
})
export const redirect = (to: string): Answer => ({ status: 303, body: '', headers: { location: to } })
export const download = (name: string, body: string): Answer => ({
  status: 200,
  body,
  headers: {
    'content-type': 'text/plain; charset=utf-8',
    'content-disposition': `attachment; filename="${name}"`,
  },
})

/** Text made safe for HTML. */
export const esc = (text: unknown) => String(text).replace(/[&<>"']/g, (char) => `&#${char.charCodeAt(0)};`)

const BODY_LIMIT_BYTES = 100_000

export async function readForm(request: IncomingMessage): Promise<string> {
  let text = ''
  for await (const part of request) {
    text += String(part)
    if (text.length > BODY_LIMIT_BYTES) throw new Error('body too large')
  }
  return text
}

export const cookiesOf = (request: IncomingMessage): Record<string, string> =>
  Object.fromEntries(
    (request.headers.cookie ?? '')
      .split(/;\s*/)
      .filter(Boolean)
      .map((pair) => pair.split('=', 2) as [string, string]),
  )

export function send(response: ServerResponse, { status, headers, body, setCookie }: Answer): void {
  response.writeHead(status, {
    'cache-control': 'no-store',
    ...headers,
    ...(setCookie && { 'set-cookie': setCookie }),
  })
  response.end(body)
}

/** Listens on loopback. */
export function listen(
  port: number,
  handle: (request: IncomingMessage, response: ServerResponse) => Promise<void>,
): Promise<Server> {
  const server = createServer((request, response) => {
    handle(request, response).catch((error: unknown) => {
      console.error('stand-in:', request.method, request.url, error)
      if (!response.headersSent)
        send(response, {
          status: 500,
          body: 'The stand-in failed.',
          headers: { 'content-type': 'text/plain' },
        })
    })
  })
  return new Promise((resolve, reject) =>
    server.once('error', reject).listen(port, '127.0.0.1', () => resolve(server)),
  )
}

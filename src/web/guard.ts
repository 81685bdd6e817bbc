/** First handler of every request: refuses malformed requests, and sets the security headers of every answer.
 */
import type { IncomingMessage, ServerResponse } from 'node:http'
import { isIP } from 'node:net'
import { SHEET_POLICY } from '@/core/reports'
import { isSecure, trustedProxies } from '@/server/public-url'

const METHODS = new Set(['GET', 'HEAD', 'POST', 'PUT', 'PATCH', 'DELETE'])
const ADDRESS_CHARS = 8000
const HOST = /^[A-Za-z0-9.-]{1,255}(:\d{1,5})?$|^\[[0-9A-Fa-f:.]{2,50}\](:\d{1,5})?$/
const YEAR_S = 31_536_000

/** For what is no page; pages have one of their own (src/proxy.ts). */
const CONTENT_POLICY = "default-src 'none'; frame-ancestors 'none'; base-uri 'none'; form-action 'none'"
/** A worker goes by the policy that came with its own script, and loads the parts of it. */
const SCRIPT_POLICY = `${CONTENT_POLICY}; script-src 'self'`

/** A run that was shared: one page that is only read, by somebody who is not signed in. */
const SHARED_POLICY = `${SHEET_POLICY}; frame-ancestors 'none'; sandbox`

function policyOf(url: string): string {
  if (url.startsWith('/_next/static/')) return SCRIPT_POLICY
  return isShared(url) ? SHARED_POLICY : CONTENT_POLICY
}
const isShared = (url: string) => url.startsWith('/shared/')

/** Sets the headers, and answers what is malformed. @returns whether it answered */
export function guard(incoming: IncomingMessage, outgoing: ServerResponse): boolean {
  const { url = '' } = incoming
  const headers: Record<string, string> = {
    'x-content-type-options': 'nosniff',
    'referrer-policy': isShared(url) ? 'no-referrer' : 'same-origin',
    'content-security-policy': policyOf(url),
    'cross-origin-opener-policy': 'same-origin',
    'cross-origin-resource-policy': 'same-origin',
    'x-frame-options': 'DENY',
    'permissions-policy': 'camera=(), geolocation=(), microphone=(), payment=(), usb=()',
    ...(isSecure() && { 'strict-transport-security': `max-age=${YEAR_S}` }),
    ...(isApi(url) && { 'cache-control': 'no-store' }),
  }
  for (const [name, value] of Object.entries(headers)) outgoing.setHeader(name, value)
  noteAddress(incoming)
  const fault = faultOf(incoming)
  if (!fault) return false
  const { status, ...problem } = fault
  outgoing.writeHead(status, { 'content-type': 'application/problem+json', connection: 'close' })
  outgoing.end(JSON.stringify(problem))
  return true
}

/** The same for a request for a WebSocket, which has no answer of ours. @returns whether it makes sense */
export function guardUpgrade(incoming: IncomingMessage): boolean {
  noteAddress(incoming)
  return faultOf(incoming) === undefined
}

/** What is said of where a request comes from counts only when a proxy that is named says it; for all others
 * that is taken out. */
function noteAddress({ headers, socket }: IncomingMessage): void {
  const peer = (socket.remoteAddress ?? '').replace(/^::ffff:/, '')
  const said = [headers['x-forwarded-for']]
    .flat()
    .join(',')
    .split(',')
    .map((one) => one.trim())
    .filter(Boolean)
  const trusted = trustedProxies()
  let address = peer
  // From the right: each named proxy vouches for the one before it.
  while (trusted.includes(address) && said.length > 0) address = said.pop()!
  headers['x-oak-address'] = isIP(address) ? address : peer
  for (const name of ['x-forwarded-for', 'x-forwarded-host', 'x-forwarded-proto', 'x-real-ip', 'forwarded'])
    delete headers[name]
}

const isApi = (url: string) => url.startsWith('/api/') || url === '/api'

type Fault = { status: number; code: string; title: string; message: string }
const bad = (message: string): Fault => ({
  status: 400,
  code: 'REQUEST_MALFORMED',
  title: 'The request makes no sense',
  message,
})

function faultOf({ method = '', url = '', headers }: IncomingMessage): Fault | undefined {
  if (!METHODS.has(method)) {
    return {
      status: 405,
      code: 'METHOD_UNKNOWN',
      title: 'This is not how anything here is asked',
      message: `${method} is not answered here.`,
    }
  }
  if (url.length > ADDRESS_CHARS) return { ...bad('The address is too long.'), status: 414 }
  if (!url.startsWith('/') || url.startsWith('//')) return bad('The address has to begin with one /.')
  if (!HOST.test(headers.host ?? '')) return bad('The header “host” names no host.')
  try {
    if (decodeURIComponent(url.split('?', 1)[0]!).includes('\0'))
      return bad('The address holds a character that no address has.')
  } catch {
    return bad('The address has a % that stands for nothing.')
  }
  return undefined
}

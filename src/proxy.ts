import { randomBytes } from 'node:crypto'
import { NextResponse, type NextRequest } from 'next/server'

/** A strict Content-Security-Policy on every page: scripts and styles only with this answer's nonce, nothing
 * from elsewhere. */
export function proxy(request: NextRequest): NextResponse {
  const nonce = randomBytes(16).toString('base64')
  const policy = [
    "default-src 'self'",
    `script-src 'self' 'nonce-${nonce}' 'strict-dynamic'`,
    `style-src 'self' 'nonce-${nonce}'`,
    "img-src 'self' blob: data:",
    "media-src 'self'",
    "font-src 'self'",
    "connect-src 'self'",
    "worker-src 'self'",
    "object-src 'none'",
    "base-uri 'none'",
    "form-action 'self'",
    "frame-ancestors 'none'",
  ].join('; ')
  const headers = new Headers(request.headers)
  headers.set('content-security-policy', policy) // Next reads the nonce from here
  headers.set('x-nonce', nonce)
  headers.set('x-oak-path', request.nextUrl.pathname + request.nextUrl.search)
  const response = NextResponse.next({ request: { headers } })
  response.headers.set('content-security-policy', policy)
  response.headers.set('cache-control', 'no-store')
  response.headers.set('x-content-type-options', 'nosniff')
  response.headers.set('referrer-policy', 'same-origin')
  return response
}

export const config = {
  matcher: [{ source: '/((?!api|schemas|shared/|_next/static|_next/image|favicon).*)' }],
}

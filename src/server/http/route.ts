/** Shared by all route handlers: reading and validating bodies, and turning refusals into answers. */
import { withActor } from '@/db/actor'
import { NESTING_MOST, storableDeep, unstorableIn } from '@/core/model'
import { partsOf } from './body'
import { problemOfDatabaseError } from './database-errors'
import { Problem, PROBLEMS } from './problems'
import { requireValid } from './require-valid'
import type { Validator } from './validator'

const BODY_LIMIT_BYTES = 4_000_000
/** Values of a body, fields and elements counted: more are no form that a person or an agent filled in. */
const BODY_VALUES_MOST = 100_000
/** Seconds in `Retry-After` of a 503. */
const RETRY_AFTER_S = 2

type Handler<P> = (request: Request, params: P) => Promise<Response>

/** The parts of a request that are used here: a request of Next.js, or one of Node.js adapted to the same
 * shape. */
export type Asked = {
  method: string
  url: string
  headers: { get(name: string): string | null }
  body: AsyncIterable<Uint8Array> | ReadableStream<Uint8Array> | null
  signal: AbortSignal
}

/** Wraps a handler: refusals become JSON problems (RFC 9457), everything else a 500 that tells nothing but
 * where to look. */
export function route<P = Record<string, never>>(handler: Handler<P>) {
  return (request: Request, context: { params: Promise<P> }): Promise<Response> =>
    withActor({ id: '', address: clientAddress(request.headers) }, () =>
      answered(request, async () => handler(request, await context.params)),
    )
}

/** The answer, whatever happens on the way to it. */
export async function answered(
  { method, url }: Pick<Asked, 'method' | 'url'>,
  handle: () => Promise<Response>,
): Promise<Response> {
  try {
    return await handle()
  } catch (error) {
    const problem = error instanceof Problem ? error : problemOfDatabaseError(error)
    if (problem) return problemResponse(problem)
    console.error(new Date().toISOString(), method, new URL(url).pathname, describeError(error))
    return Response.json(
      {
        code: 'INTERNAL',
        title: 'Something broke on the server',
        message: 'Something broke on the server. Nothing was changed; the server’s log says more.',
      },
      { status: 500 },
    )
  }
}

export function problemResponse(problem: Problem): Response {
  const { status } = PROBLEMS[problem.code]
  return Response.json(problem, {
    status,
    headers: {
      'content-type': 'application/problem+json',
      ...(status === 503 && { 'retry-after': String(RETRY_AFTER_S) }),
    },
  })
}

/** For logs: never a query's parameters (the message of a Drizzle error holds them). */
export function describeError(error: unknown): string {
  if (!(error instanceof Error)) return String(error)
  if (error.name === 'DrizzleQueryError' || 'query' in error)
    return `query failed: ${(error.cause as Error | undefined)?.message ?? 'unknown'}`
  return error.stack ?? error.message
}

export type BodyLimits = { bytes?: number; values?: number }

/** The JSON body, validated. Text that cannot be stored is refused with its place.
 * @throws {Problem} BODY_TOO_LARGE, BODY_INVALID with Ajv's errors */
export async function readBody<T>(
  request: Pick<Asked, 'headers' | 'body'>,
  validate: Validator<T>,
  limits?: BodyLimits,
): Promise<T> {
  const json = await readJson(request, limits)
  const unstorable = unstorableIn(json)
  if (unstorable)
    throw new Problem('BODY_INVALID', `${unstorable.path || 'body'} ${unstorable.message}`, [
      { field: unstorable.path, message: unstorable.message },
    ])
  return requireValid(json, validate)
}

/** The same for what agents send: a page under test may print anything, so characters that cannot be stored
 * are replaced by visible ones. */
export async function readAgentBody<T>(
  request: Pick<Asked, 'headers' | 'body'>,
  validate: Validator<T>,
): Promise<T> {
  return requireValid(storableDeep(await readJson(request)), validate)
}

/** The JSON body without validation, for callers that validate it themselves.
 * @throws {Problem} BODY_TOO_LARGE, BODY_INVALID */
export async function readJson(
  request: Pick<Asked, 'headers' | 'body'>,
  { bytes = BODY_LIMIT_BYTES, values = BODY_VALUES_MOST }: BodyLimits = {},
): Promise<unknown> {
  const text = new TextDecoder().decode(await readBytes(request, bytes))
  let json: unknown
  try {
    json = JSON.parse(text)
  } catch {
    throw new Problem('BODY_INVALID', 'The body is not JSON.')
  }
  requireSmall(json, values)
  return json
}

/** Counts without recursion: a body may be nested as deep as it is long. */
function requireSmall(json: unknown, valuesMost: number): void {
  let left = valuesMost
  let level: unknown[] = [json]
  for (let depth = 0; level.length > 0; depth++) {
    if (depth > NESTING_MOST)
      throw new Problem('BODY_INVALID', `The body is nested deeper than ${NESTING_MOST}.`)
    left -= level.length
    if (left < 0) throw new Problem('BODY_TOO_LARGE', `The body holds more than ${valuesMost} values.`)
    const next: unknown[] = []
    for (const value of level) {
      if (value !== null && typeof value === 'object')
        for (const item of Object.values(value)) next.push(item)
    }
    level = next
  }
}

/** Bytes of a body, refused as soon as there are more than `most`. */
export async function readBytes(request: Pick<Asked, 'headers' | 'body'>, most: number): Promise<Uint8Array> {
  if (Number(request.headers.get('content-length') ?? 0) > most)
    throw new Problem('BODY_TOO_LARGE', `At most ${most} bytes are taken.`)
  const parts: Uint8Array[] = []
  let size = 0
  for await (const part of partsOf(request.body)) {
    size += part.length
    if (size > most) throw new Problem('BODY_TOO_LARGE', `At most ${most} bytes are taken.`)
    parts.push(part)
  }
  return Buffer.concat(parts)
}

/** State changes by a signed-in browser must come from our own pages. Fetch Metadata where the browser sends
 * it, else Origin. */
export function isSameOrigin({ headers }: Pick<Request, 'headers'>): boolean {
  const site = headers.get('sec-fetch-site')
  if (site === 'same-origin' || site === 'none') return true
  const origin = headers.get('origin')
  return !site && origin !== null && URL.canParse(origin) && new URL(origin).host === headers.get('host')
}
/** @throws {Problem} ORIGIN_FOREIGN */
export function requireSameOrigin(request: Pick<Request, 'headers'>): void {
  if (!isSameOrigin(request)) throw new Problem('ORIGIN_FOREIGN')
}

/** The address of this server: its public one, or the one the request was sent to. */
export function addressOf(headers: Headers): string {
  return process.env.OAK_PUBLIC_URL?.replace(/\/$/, '') ?? `http://${headers.get('host') ?? '127.0.0.1'}`
}

/** Where a request comes from: as the web process found out (src/web/guard.ts). */
export const clientAddress = (headers: Pick<Headers, 'get'>): string => headers.get('x-oak-address') ?? ''

const UUID = /^[0-9a-f]{8}-[0-9a-f]{4}-[0-9a-f]{4}-[0-9a-f]{4}-[0-9a-f]{12}$/
/** @throws {Problem} NOT_FOUND, so that a malformed id never reaches PostgreSQL */
export function readUuid(text: string): string {
  if (!UUID.test(text)) throw new Problem('NOT_FOUND')
  return text
}
export function readNumber(text: string): number {
  if (!/^\d{1,9}$/.test(text)) throw new Problem('NOT_FOUND')
  return Number(text)
}
export const noContent = () => new Response(null, { status: 204 })

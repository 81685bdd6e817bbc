/** What every route handler shares: who asks, what was sent, and how a refusal is answered. */
import Ajv, { type ValidateFunction } from 'ajv'
import { Problem, PROBLEMS } from './problems'

const BODY_LIMIT_BYTES = 4_000_000
const ajv = new Ajv({ allErrors: true, strict: true, allowUnionTypes: true, coerceTypes: false })

/** A validator of a body; the schema is compiled once, at load. */
export const validator = <T>(schema: object): ValidateFunction<T> => ajv.compile<T>(schema)

type Handler<P> = (request: Request, params: P) => Promise<Response>

/** Of a request, what is looked at here: one of Next.js, or one of Node.js in its clothes. */
export type Asked = { method: string; url: string; headers: { get(name: string): string | null }; body: AsyncIterable<Uint8Array> | ReadableStream<Uint8Array> | null; signal: AbortSignal }

/** Wraps a handler: refusals become JSON problems (RFC 9457), everything else a 500 that tells nothing but where to look. */
export function route<P = Record<string, never>>(handler: Handler<P>) {
  return (request: Request, context: { params: Promise<P> }): Promise<Response> => answered(request, async () => handler(request, await context.params))
}

/** The answer, whatever happens on the way to it. */
export async function answered({ method, url }: Pick<Asked, 'method' | 'url'>, handle: () => Promise<Response>): Promise<Response> {
  try {
    return await handle()
  } catch (error) {
    if (error instanceof Problem) return problemResponse(error)
    console.error(new Date().toISOString(), method, new URL(url).pathname, describeError(error))
    return Response.json({ code: 'INTERNAL', title: 'Something broke on the server', message: 'Something broke on the server. Nothing was changed; the server’s log says more.' }, { status: 500 })
  }
}

export function problemResponse(problem: Problem): Response {
  return Response.json(problem, { status: PROBLEMS[problem.code].status, headers: { 'content-type': 'application/problem+json' } })
}

/** For logs: never a query's parameters (the message of a Drizzle error holds them). */
export function describeError(error: unknown): string {
  if (!(error instanceof Error)) return String(error)
  if (error.name === 'DrizzleQueryError' || 'query' in error) return `query failed: ${(error.cause as Error | undefined)?.message ?? 'unknown'}`
  return error.stack ?? error.message
}

/** The JSON body, validated. @throws {Problem} BODY_TOO_LARGE, BODY_INVALID with Ajv's errors */
export async function readBody<T>(request: Pick<Asked, 'headers' | 'body'>, validate: ValidateFunction<T>, mostBytes = BODY_LIMIT_BYTES): Promise<T> {
  const json = await readJson(request, mostBytes)
  if (!validate(json)) {
    const faults = (validate.errors ?? []).map((error) => ({ field: error.instancePath.slice(1).replaceAll('/', '.'), message: error.message ?? '' }))
    throw new Problem('BODY_INVALID', faults.map((fault) => `${fault.field || 'body'} ${fault.message}`).join('; '), faults)
  }
  return json
}

/** The JSON body as it is, for who validates it themselves. @throws {Problem} BODY_TOO_LARGE, BODY_INVALID */
export async function readJson(request: Pick<Asked, 'headers' | 'body'>, mostBytes = BODY_LIMIT_BYTES): Promise<unknown> {
  const text = new TextDecoder().decode(await readBytes(request, mostBytes))
  try {
    return JSON.parse(text) as unknown
  } catch {
    throw new Problem('BODY_INVALID', 'The body is not JSON.')
  }
}

/** Bytes of a body, refused as soon as there are more than `most`. */
export async function readBytes(request: Pick<Asked, 'headers' | 'body'>, most: number): Promise<Uint8Array> {
  if (Number(request.headers.get('content-length') ?? 0) > most) throw new Problem('BODY_TOO_LARGE', `At most ${most} bytes are taken.`)
  const parts: Uint8Array[] = []
  let size = 0
  for await (const part of (request.body ?? []) as AsyncIterable<Uint8Array>) {
    size += part.length
    if (size > most) throw new Problem('BODY_TOO_LARGE', `At most ${most} bytes are taken.`)
    parts.push(part)
  }
  return Buffer.concat(parts)
}

/** State changes by a signed-in browser must come from our own pages. Fetch Metadata where the browser sends it, else Origin. */
export function requireSameOrigin(request: Request): void {
  const site = request.headers.get('sec-fetch-site')
  if (site === 'same-origin' || site === 'none') return
  const origin = request.headers.get('origin')
  if (!site && origin && URL.canParse(origin) && new URL(origin).host === request.headers.get('host')) return
  throw new Problem('ORIGIN_FOREIGN')
}

/** This server as the one who asks calls it: behind a proxy, what the proxy says. */
export function addressOf(headers: Headers): string {
  return `${headers.get('x-forwarded-proto') ?? 'http'}://${headers.get('x-forwarded-host') ?? headers.get('host') ?? '127.0.0.1'}`
}

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

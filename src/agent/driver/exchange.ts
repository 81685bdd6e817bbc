/** A request that failed, as text: what was sent, and what came back. */

export type Side = { line: string; headers: Readonly<Record<string, string>>; body: string }

/** Characters of each body. */
const BODY_MOST = 64_000
/** Of an attempt: pages may fail without end. */
export const EXCHANGES_MOST = 100
/** Who sees these is signed in. */
const KEYS: ReadonlySet<string> = new Set([
  'authorization',
  'proxy-authorization',
  'cookie',
  'set-cookie',
  'x-api-key',
  'x-csrf-token',
])
const MASK = '••••'

/** Headers that let somebody in are masked; secrets of the case are, where the text is kept. */
export const exchangeText = (sent: Side, came: Side): string =>
  `${sideText(sent)}\n${'-'.repeat(40)}\n${sideText(came)}`

function sideText({ line, headers, body }: Side): string {
  const lines = Object.entries(headers).map(
    ([name, value]) => `${name}: ${KEYS.has(name.toLowerCase()) ? MASK : value}`,
  )
  const rest = body.length - BODY_MOST
  const shown = rest > 0 ? `${body.slice(0, BODY_MOST)}\n(and ${rest} characters more)` : body
  return [line, ...lines, '', shown, ''].join('\n')
}

/** A body as it is shown: its text, or how much of what it is. @param type the header `content-type` */
export const readableBody = (type: string | undefined, bytes: Uint8Array): string =>
  isReadable(type)
    ? Buffer.from(bytes).toString('utf8')
    : `${bytes.length} bytes of ${type ?? 'an unknown kind'}`

/** Whether a body of this kind is text. @param type the header `content-type` */
export const isReadable = (type = 'text/plain'): boolean =>
  /^text\/|[/+](json|xml|javascript|x-www-form-urlencoded)\b/i.test(type)

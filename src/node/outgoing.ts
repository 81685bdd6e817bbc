/** Where this product may connect to on somebody's word: addresses of webhooks, applications, databases,
 * bridges.
 * Names are looked up here and what they resolve to is checked, at each redirect again, so that no name leads
 * inside. */
import { lookup as resolve } from 'node:dns'
import { lookup } from 'node:dns/promises'
import { request as httpRequest, type IncomingMessage, type RequestOptions } from 'node:http'
import { request as httpsRequest } from 'node:https'
import { BlockList, isIP, Socket, type LookupFunction } from 'node:net'

/** `except`: "HOST:PORT" that an administrator allows whatever else holds. `forbidden`: "HOST:PORT" of our
 * own. */
export type OutgoingPolicy = { except: readonly string[]; forbidden: readonly string[] }

/** Nothing but what is never asked is refused. */
export const OPEN_POLICY: OutgoingPolicy = { except: [], forbidden: [] }

const DEFAULT_PORTS: Record<string, string> = { 'https:': '443', 'http:': '80' }
/** Where an address names none, the port of its protocol; any other protocol is that of PostgreSQL. */
const portOf = ({ port, protocol }: URL) => Number(port || (DEFAULT_PORTS[protocol] ?? '5432'))

/** @param allow `OAK_OUTGOING_ALLOW`: HOST:PORT, a comma between
 * @param own addresses of the product itself; what is no address is passed over */
export function outgoingPolicyOf(
  allow: string | undefined,
  own: readonly (string | undefined)[],
): OutgoingPolicy {
  const except = (allow ?? '')
    .split(',')
    .map((place) => place.trim().toLowerCase())
    .filter(Boolean)
  return {
    except,
    forbidden: own.flatMap((address) => (address && URL.canParse(address) ? [placeOf(address)] : [])),
  }
}

/** An address as HOST:PORT. */
export function placeOf(address: string): string {
  const url = new URL(address)
  return `${url.hostname.toLowerCase().replace(/^localhost$/, '127.0.0.1')}:${portOf(url)}`
}

/** Shown to the person who entered the address. */
export class OutgoingRefused extends Error {}

/** Link-local addresses: where clouds keep what machines are allowed to know of themselves. */
const linkLocal = new BlockList()
linkLocal.addSubnet('169.254.0.0', 16, 'ipv4')
linkLocal.addSubnet('fe80::', 10, 'ipv6')
linkLocal.addAddress('fd00:ec2::254', 'ipv6')
linkLocal.addAddress('100.100.100.200', 'ipv4')
linkLocal.addAddress('192.0.0.192', 'ipv4')

const loopback = new BlockList()
loopback.addSubnet('127.0.0.0', 8, 'ipv4')
loopback.addAddress('::1', 'ipv6')
loopback.addAddress('0.0.0.0', 'ipv4')
loopback.addAddress('::', 'ipv6')

const plain = (address: string) =>
  address
    .replace(/^\[|\]$/g, '')
    .replace(/^::ffff:(?=\d+\.)/i, '')
    .toLowerCase()
const isIn = (list: BlockList, address: string) => list.check(address, isIP(address) === 6 ? 'ipv6' : 'ipv4')

/** @param host as it was given, @param address what it resolves to. @returns why it is refused, or
 * `undefined` */
export function refusalOf(
  host: string,
  address: string,
  port: number,
  { except, forbidden }: OutgoingPolicy,
): string | undefined {
  const [name, ip] = [plain(host), plain(address)]
  const isNamed = (list: readonly string[]) =>
    list.includes(`${name}:${port}`) || list.includes(`${ip}:${port}`)
  if (isNamed(except)) return undefined
  if (isIn(linkLocal, ip))
    return `${name} is an address inside the machine's own network (${ip}), which is not asked`
  if (isNamed(forbidden) || (isIn(loopback, ip) && forbidden.includes(`127.0.0.1:${port}`))) {
    return `${name}:${port} belongs to this product itself, and is not asked by itself`
  }
  return undefined
}

/** The same for all that a host resolves to now. @throws when it cannot be looked up */
export async function refusalOfHost(
  host: string,
  port: number,
  policy: OutgoingPolicy,
): Promise<string | undefined> {
  for (const { address } of await lookup(host.replace(/^\[|\]$/g, ''), { all: true })) {
    const refusal = refusalOf(host, address, port, policy)
    if (refusal) return refusal
  }
  return undefined
}

/** The same for an address. */
export function refusalOfAddress(address: string, policy: OutgoingPolicy): Promise<string | undefined> {
  const url = new URL(address)
  return refusalOfHost(url.hostname, portOf(url), policy)
}

/** Looks a name up and refuses what it may not be. For `net.connect` and all that goes through it. */
export function checkedLookup(port: number, policy: OutgoingPolicy): LookupFunction {
  return (host, options, callback) => {
    resolve(host, { ...options, all: true }, (error, found) => {
      if (error) return callback(error, [])
      for (const { address } of found) {
        const refusal = refusalOf(host, address, port, policy)
        if (refusal) return callback(new OutgoingRefused(refusal), [])
      }
      if (options.all) callback(null, found)
      else callback(null, found[0]!.address, found[0]!.family)
    })
  }
}

/** Addresses written as numbers are never looked up. @throws {OutgoingRefused} */
export function requireLiteral(host: string, port: number, policy: OutgoingPolicy): void {
  if (isIP(plain(host)) === 0) return
  const refusal = refusalOf(host, host, port, policy)
  if (refusal) throw new OutgoingRefused(refusal)
}

/** A socket that looks up what it connects to by `checkedLookup`: for clients that take a socket. */
export function checkedSocket(policy: OutgoingPolicy): Socket {
  const socket = new Socket()
  const connect = socket.connect.bind(socket) as (options: object) => Socket
  socket.connect = ((port: number, host: string) => {
    try {
      requireLiteral(host, port, policy)
    } catch (error) {
      process.nextTick(() => socket.destroy(error as Error))
      return socket
    }
    return connect({ port, host, lookup: checkedLookup(port, policy) })
  }) as Socket['connect']
  return socket
}

export type Asked = {
  method: string
  headers?: Record<string, string>
  body?: string | Uint8Array
  limitMs: number
  mostBytes: number
  redirects?: number
}
export type Answer = { status: number; headers: IncomingMessage['headers']; text: string; url: string }

/** Asks an address over HTTP. @param asked.redirects how many are followed; none unless said
 * @throws {OutgoingRefused}; an Error named TimeoutError when there is no whole answer in time, any other
 * when there is none */
export async function ask(address: string, asked: Asked, policy: OutgoingPolicy): Promise<Answer> {
  const until = performance.now() + asked.limitMs
  let url = new URL(address)
  let { method, body } = asked
  for (let left = asked.redirects ?? 0; ; left--) {
    const answer = await askOnce(
      url,
      {
        ...asked,
        method,
        ...(body !== undefined && { body }),
        limitMs: Math.max(1, until - performance.now()),
      },
      policy,
    )
    const to = answer.headers.location
    if (left <= 0 || !to || ![301, 302, 303, 307, 308].includes(answer.status)) return answer
    const next = new URL(to, url)
    if (answer.status === 303 || (answer.status < 303 && method === 'POST'))
      [method, body] = ['GET', undefined]
    if (next.origin !== url.origin) asked = { ...asked, headers: withoutSecrets(asked.headers ?? {}) }
    url = next
  }
}

/** What is meant for one site is not told to another. */
const withoutSecrets = (headers: Record<string, string>) =>
  Object.fromEntries(
    Object.entries(headers).filter(([name]) => !['authorization', 'cookie'].includes(name.toLowerCase())),
  )

function askOnce(
  url: URL,
  { method, headers = {}, body, limitMs, mostBytes }: Asked,
  policy: OutgoingPolicy,
): Promise<Answer> {
  if (url.protocol !== 'http:' && url.protocol !== 'https:')
    throw new OutgoingRefused(`${url.protocol} is not asked; http and https are`)
  const port = portOf(url)
  requireLiteral(url.hostname, port, policy)
  const options: RequestOptions = {
    method,
    headers: {
      accept: '*/*',
      'user-agent': 'oak-rotation',
      ...headers,
      ...(body !== undefined && { 'content-length': String(Buffer.byteLength(body)) }),
    },
    lookup: checkedLookup(port, policy),
    signal: AbortSignal.timeout(Math.ceil(limitMs)),
    agent: false,
  }
  return new Promise((done, failed) => {
    const fail = (error: Error) => failed(timedOut(error) ?? error)
    const send = url.protocol === 'https:' ? httpsRequest : httpRequest
    const request = send(url, options, (response) => {
      const parts: Buffer[] = []
      let size = 0
      response.on('data', (part: Buffer) => {
        size += part.length
        if (size > mostBytes)
          response.destroy(new Error(`the answer is larger than ${mostBytes.toLocaleString('en')} bytes`))
        else parts.push(part)
      })
      response.on('error', fail)
      response.on('end', () =>
        done({
          status: response.statusCode ?? 0,
          headers: response.headers,
          text: Buffer.concat(parts).toString('utf8'),
          url: url.href,
        }),
      )
    })
    request.on('error', fail)
    request.end(body)
  })
}

function timedOut(error: Error): Error | undefined {
  const isOver = error.name === 'AbortError' || error.name === 'TimeoutError'
  return isOver ? Object.assign(new Error('no answer in time'), { name: 'TimeoutError' }) : undefined
}

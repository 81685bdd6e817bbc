/** Where a repository is. */
import { OutgoingRefused, refusalOfHost } from '@/node/outgoing'
import { outgoingPolicy } from '../outgoing'
import { isLocal } from './git'

const PORTS: Record<string, number> = { 'http:': 80, 'https:': 443, 'ssh:': 22 }

/** The host and port of a repository's address; `undefined` for a folder of this machine. */
export function hostOf(location: string): { host: string; port: number } | undefined {
  if (isLocal(location)) return undefined
  const short = /^git@([^:/]+):/.exec(location)
  if (short) return { host: short[1]!, port: PORTS['ssh:']! }
  const { hostname, port, protocol } = new URL(location)
  return { host: hostname, port: Number(port) || PORTS[protocol] || 0 }
}

/** Git looks the name up again by itself; it follows no redirects. @throws {OutgoingRefused}, and what the
 * lookup throws */
export async function requireReachable(location: string): Promise<void> {
  const place = hostOf(location)
  if (!place) return
  const refusal = await refusalOfHost(place.host, place.port, outgoingPolicy())
  if (refusal) throw new OutgoingRefused(refusal)
}

/** What this installation may connect to on somebody's word. By default everything but the cloud's own
 * address, our database and our own ports; `OAK_OUTGOING_ALLOW` (HOST:PORT, comma between) is an
 * administrator's word that some of those may be asked after all. */
import { outgoingPolicyOf, refusalOfAddress, type OutgoingPolicy } from '@/node/outgoing'
import { Problem } from './http/problems'

/** @param env of the process that connects */
export const outgoingPolicy = (env: NodeJS.ProcessEnv = process.env): OutgoingPolicy =>
  outgoingPolicyOf(env.OAK_OUTGOING_ALLOW, [env.DATABASE_URL, env.OAK_URL, env.OAK_PUBLIC_URL])

/** Looks an address up. @throws {Problem} OUTGOING_REFUSED; one that cannot be looked up now may be later */
export async function requireOutgoing(
  address: string,
  policy: OutgoingPolicy = outgoingPolicy(),
): Promise<void> {
  const refusal = await refusalOfAddress(address, policy).catch(() => undefined)
  if (refusal)
    throw new Problem(
      'OUTGOING_REFUSED',
      `${refusal[0]!.toUpperCase()}${refusal.slice(1)}. Nothing was changed.`,
    )
}

/** What drivers share in keeping who is signed in, and in taking that over. */
import type { Cookie, SignedInState, Stored } from '@/core/model'
import { DriverFault } from './port'

/** @param url of the page that is shown @param stored what that keeps
 * @throws {DriverFault} page: no site is open */
export async function signedInOf(
  url: string,
  cookies: () => Cookie[] | Promise<Cookie[]>,
  stored: () => Promise<Stored>,
): Promise<SignedInState> {
  if (!/^https?:/.test(url))
    throw new DriverFault('page', 'no site is open, so nobody can be signed in to one')
  return { cookies: await cookies(), origin: new URL(url).origin, stored: await stored() }
}

/** A page of an origin on which nothing happens, whether it is there or not (RFC 9309). */
export const quietPageOf = (origin: string) => `${origin}/robots.txt`

/** @throws {DriverFault} page: the origin led elsewhere */
export function requireOrigin(url: string, origin: string): void {
  if (!URL.canParse(url) || new URL(url).origin !== origin)
    throw new DriverFault('page', `${quietPageOf(origin)} leads away from ${origin}`)
}

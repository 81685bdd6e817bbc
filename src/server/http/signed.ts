/** Messages signed as Standard Webhooks says (standardwebhooks.com): those that come in, and those we
 * send. */
import { createHmac, randomBytes, timingSafeEqual } from 'node:crypto'
import { Problem } from './problems'

/** Older ones are refused, so that nobody can send one again. */
const AGE_MOST_MS = 5 * 60_000

export type SignedHeaders = { id: string | null; timestamp: string | null; signature: string | null }
export const signedHeaders = (headers: Headers): SignedHeaders => ({
  id: headers.get('webhook-id'),
  timestamp: headers.get('webhook-timestamp'),
  signature: headers.get('webhook-signature'),
})

export const newWebhookSecret = (): string => `whsec_${randomBytes(24).toString('base64')}`

export const signatureOf = (secret: string, id: string, timestamp: string, body: string): string =>
  createHmac('sha256', Buffer.from(secret.replace(/^whsec_/, ''), 'base64'))
    .update(`${id}.${timestamp}.${body}`)
    .digest('base64')

/** For where no secret was made: a message is refused there like a wrong one, so that nobody learns what is
 * here by asking. */
const NOBODYS = newWebhookSecret()

/** @returns the id of the message. @throws {Problem} SIGNATURE_WRONG, also when it is too old, and when there
 * is no secret */
export function requireSigned(
  secret: string | null | undefined,
  body: string,
  { id, timestamp, signature }: SignedHeaders,
  nowMs: number,
): string {
  const ageMs = Math.abs(nowMs - Number(timestamp) * 1000)
  const expected = signatureOf(secret ?? NOBODYS, id ?? '', timestamp ?? '', body)
  const matches = (signature ?? '')
    .split(' ')
    .some((one) => one.startsWith('v1,') && same(one.slice(3), expected))
  if (!id || !(ageMs <= AGE_MOST_MS) || !matches)
    throw new Problem(
      'SIGNATURE_WRONG',
      'The signature is not right, or no secret was made for such messages here.',
    )
  return id
}

/** For servers that sign nothing, or in a way of their own: a word to be told in the address, which says no
 * more than that it is they. It follows from the secret, so that both go with it. */
export const tokenOf = (secret: string): string =>
  createHmac('sha256', secret).update('address').digest('base64url')

/** @throws {Problem} SIGNATURE_WRONG, also when there is no secret */
export function requireToken(secret: string | null | undefined, token: string): void {
  if (!same(token, tokenOf(secret ?? NOBODYS)))
    throw new Problem('SIGNATURE_WRONG', 'The token in the address is not right.')
}

function same(a: string, b: string): boolean {
  const [x, y] = [Buffer.from(a), Buffer.from(b)]
  return x.length === y.length && timingSafeEqual(x, y)
}

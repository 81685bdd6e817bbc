/** Signing in and out. The sign-in library makes the session and its cookie; whether it comes to that is
 * decided here. */
import { createHash } from 'node:crypto'
import { FORGOTTEN_MS, waitInWords, waitLeft, type TryCounts } from '@/core/people'
import { withActor } from '@/db/actor'
import { noteEvent } from '@/db/audit'
import {
  dropOldTries as drop,
  forgetFailures,
  isKnownAddress,
  memberByUsername,
  noteFailure,
  triesOf,
  type Member,
  type TryKey,
  type TryKind,
} from '@/db/members'
import type { Context } from '../context'
import { Problem } from '../http/problems'
import { validator, type BodyOf } from '../http/validator'
import { auth } from './auth'
import { isPassword } from './password'
import { checkSecondFactor } from './second-factor'

export const signInBody = validator({
  type: 'object',
  additionalProperties: false,
  required: ['username', 'password'],
  properties: {
    username: { type: 'string', minLength: 1, maxLength: 100 },
    password: { type: 'string', minLength: 1, maxLength: 200 },
    code: { type: 'string', maxLength: 40 },
  },
})
export type SignInRequest = BodyOf<typeof signInBody>

const hashOf = (text: string) => createHash('sha256').update(text).digest('hex').slice(0, 32)

const keysOf = (username: string, address: string): Record<TryKind, TryKey> => ({
  pair: { kind: 'pair', key: hashOf(`pair ${username} ${address}`) },
  address: { kind: 'address', key: hashOf(`address ${address}`) },
  account: { kind: 'account', key: hashOf(`account ${username}`) },
})

/** @param address where it comes from
 * @returns the library's answer, with the cookie
 * @throws {Problem} SIGN_IN_WAIT with how long, SIGN_IN_WRONG, CODE_MISSING, CODE_WRONG */
export async function signIn(
  ctx: Context,
  { username: written, password, code }: SignInRequest,
  address: string,
  headers: Headers,
): Promise<Response> {
  const username = written.trim().toLowerCase()
  const keys = keysOf(username, address)
  const member = await memberByUsername(ctx.db, username)
  await requireNoWait(ctx, keys, member, address)
  const failed = async (problem: Problem, why: string): Promise<never> => {
    await noteFailure(ctx.db, Object.values(keys), FORGOTTEN_MS)
    await withActor({ id: member?.id ?? '', address }, () =>
      noteEvent(ctx.db, member?.name ?? 'somebody', 'sign-in.fail', username.slice(0, 60), { why }),
    )
    throw problem
  }
  if (!(await isPassword(ctx, member?.id, password)) || member?.state !== 'active')
    return failed(
      new Problem('SIGN_IN_WRONG'),
      member && member.state !== 'active' ? member.state : 'password',
    )
  const factor = await checkSecondFactor(ctx, member, code)
  if (factor === 'missing') throw new Problem('CODE_MISSING')
  if (factor === 'wrong') return failed(new Problem('CODE_WRONG'), 'code')
  await forgetFailures(ctx.db, [keys.pair])
  const answer = await auth().api.signInUsername({
    body: { username, password },
    headers: withAddress(headers, address),
    asResponse: true,
  })
  if (!answer.ok) throw new Problem('SIGN_IN_WRONG')
  await withActor({ id: member.id, address }, () => noteEvent(ctx.db, member.name, 'sign-in', username))
  return answer
}

async function requireNoWait(
  ctx: Context,
  keys: Record<TryKind, TryKey>,
  member: Member | undefined,
  address: string,
): Promise<void> {
  const found = await triesOf(ctx.db, Object.values(keys))
  if (found.length === 0) return
  const counts: TryCounts = { pair: 0, address: 0, account: 0 }
  const ages: TryCounts = { pair: 0, address: 0, account: 0 }
  for (const { kind, failures, ageMs } of found) {
    counts[kind] = ageMs > FORGOTTEN_MS ? 0 : failures
    ages[kind] = ageMs
  }
  const known = member !== undefined && (await isKnownAddress(ctx.db, member.id, address))
  const leftMs = waitLeft(counts, ages, known)
  if (leftMs > 0)
    throw new Problem(
      'SIGN_IN_WAIT',
      `Too many tries failed. The next one may be made in ${waitInWords(leftMs)}.`,
      { waitMs: Math.ceil(leftMs) },
    )
}

/** What a client says of where it comes from is not what the session is noted with. */
function withAddress(headers: Headers, address: string): Headers {
  const given = new Headers(headers)
  given.set('x-oak-address', address)
  return given
}

/** Ends the session of a request. @returns the library's answer, which takes the cookie back */
export async function signOut(
  ctx: Context,
  person: { name: string; username: string },
  headers: Headers,
): Promise<Response> {
  const answer = await auth().api.signOut({ headers, asResponse: true })
  await noteEvent(ctx.db, person.name, 'sign-out', person.username)
  return answer
}

/** Forgets failures that are old. */
export const dropOldTries = (ctx: Pick<Context, 'db'>): Promise<void> => drop(ctx.db, FORGOTTEN_MS)

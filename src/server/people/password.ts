/** Passwords, hashed as the sign-in library wants them (scrypt). */
import { PASSWORD_WEAKNESSES, passwordWeakness } from '@/core/people'
import { passwordHashOf, putPasswordHash } from '@/db/members'
import type { Tx } from '@/db/client'
import type { Context } from '../context'
import { Problem } from '../http/problems'
import { auth } from './auth'

/** @throws {Problem} PASSWORD_WEAK, with the weakness as its detail */
export function requireGoodPassword(password: string, who: { name: string; username: string }): void {
  const why = passwordWeakness(password, who)
  if (why) throw new Problem('PASSWORD_WEAK', PASSWORD_WEAKNESSES[why], { why })
}

let nobodys: Promise<string> | undefined

/** Whether this is the password of a person. It takes as long for one who is not there. */
export async function isPassword(
  ctx: Pick<Context, 'db'>,
  userId: string | undefined,
  password: string,
): Promise<boolean> {
  const library = (await auth().$context).password
  nobodys ??= library.hash('nobody has this password')
  const stored = userId === undefined ? undefined : await passwordHashOf(ctx.db, userId)
  const matches = await library.verify({ hash: stored ?? (await nobodys), password })
  return stored !== undefined && matches
}

/** @throws {Problem} PASSWORD_WRONG */
export async function requirePassword(
  ctx: Pick<Context, 'db'>,
  userId: string,
  password: string,
): Promise<void> {
  if (!(await isPassword(ctx, userId, password))) throw new Problem('PASSWORD_WRONG')
}

export async function setPassword(tx: Tx, userId: string, password: string): Promise<void> {
  await putPasswordHash(tx, userId, await (await auth().$context).password.hash(password))
}

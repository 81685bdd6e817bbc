import { addPerson } from '@/db/people'
import type { RoleName } from '@/db/people.schema'
import type { Context } from '../context'
import { auth } from './auth'

/** Adds a person with a password, hashed as the sign-in library wants it. */
export async function addPersonWithPassword(
  ctx: Pick<Context, 'db'>,
  person: { name: string; username: string; role: RoleName; password: string },
): Promise<void> {
  const { password, ...rest } = person
  const passwordHash = await (await auth().$context).password.hash(password)
  await addPerson(ctx.db, { ...rest, id: `person-${person.username}`, passwordHash })
}

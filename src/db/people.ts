import type { Conn } from './client'
import { account, user, type RoleName } from './people.schema'

export type NewPerson = { id: string; name: string; username: string; role: RoleName; passwordHash: string }

/** Adds a person who can sign in with a password; one who is there keeps theirs. */
export async function addPerson(db: Conn, person: NewPerson): Promise<void> {
  const { id, name, username, role, passwordHash } = person
  const added = await db
    .insert(user)
    .values({ id, name, username, displayUsername: username, email: `${username}@people.invalid`, role })
    .onConflictDoNothing()
  if (added.rowCount === 1)
    await db.insert(account).values({
      id: `${id}-password`,
      accountId: id,
      providerId: 'credential',
      userId: id,
      password: passwordHash,
    })
}

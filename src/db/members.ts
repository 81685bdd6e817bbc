/** People as an administrator sees them, their sessions, links to set a password, second factors, and failed
 * tries. */
import { and, asc, eq, gt, inArray, ne, sql } from 'drizzle-orm'
import type { Conn, Tx } from './client'
import {
  account,
  invitations,
  secondFactors,
  session,
  signInTries,
  user,
  type PersonState,
  type RoleName,
} from './people.schema'

export type Member = {
  id: string
  name: string
  username: string
  role: RoleName
  state: PersonState
  secondFactor: boolean
  seenAt: Date | null
}

const memberColumns = {
  id: user.id,
  name: user.name,
  username: sql<string>`coalesce(${user.username}, '')`,
  role: user.role,
  state: user.state,
  secondFactor: sql<boolean>`exists (select from second_factors f where f.user_id = "user".id
    and f.confirmed_at is not null)`,
  seenAt: sql<Date | null>`(select max(s.updated_at) from session s where s.user_id = "user".id)`.mapWith(
    (at: string | Date) => new Date(at),
  ),
}

export const listMembers = async (db: Conn): Promise<Member[]> =>
  await db.select(memberColumns).from(user).orderBy(asc(user.name))
export const memberById = async (db: Conn, id: string): Promise<Member | undefined> =>
  (await db.select(memberColumns).from(user).where(eq(user.id, id)))[0]
export const memberByUsername = async (db: Conn, username: string): Promise<Member | undefined> =>
  (
    await db
      .select(memberColumns)
      .from(user)
      .where(sql`lower(${user.username}) = lower(${username})`)
  )[0]

/** Names of those who may carry out cases. */
export const namesOfTesters = async (db: Conn): Promise<string[]> =>
  (await listMembers(db)).flatMap(({ name, role, state }) =>
    role !== 'viewer' && state === 'active' ? [name] : [],
  )

const ADDING = 0x0a4b03
/** Serialises the adding of people: a check of names and the insert that follows are one step. */
export const lockNames = async (tx: Tx): Promise<void> =>
  void (await tx.execute(sql`select pg_advisory_xact_lock(${ADDING})`))

export async function addMember(
  tx: Tx,
  { id, name, username, role }: { id: string; name: string; username: string; role: RoleName },
): Promise<void> {
  await tx.insert(user).values({
    id,
    name,
    username,
    displayUsername: username,
    email: `${id}@people.invalid`,
    role,
    state: 'invited',
  })
}
export const changeMember = async (
  tx: Tx,
  id: string,
  change: { role?: RoleName; state?: PersonState },
): Promise<void> =>
  void (await tx
    .update(user)
    .set({ ...change, updatedAt: sql`now()` })
    .where(eq(user.id, id)))

/** Administrators who may sign in, but for this one. Locked, so that two do not take each other's role at
 * once. */
export async function otherAdmins(tx: Tx, id: string): Promise<number> {
  const rows = await tx
    .select({ id: user.id })
    .from(user)
    .where(and(eq(user.role, 'admin'), eq(user.state, 'active')))
    .for('update')
  return rows.filter((row) => row.id !== id).length
}

export async function passwordHashOf(db: Conn, userId: string): Promise<string | undefined> {
  const [row] = await db
    .select({ password: account.password })
    .from(account)
    .where(and(eq(account.userId, userId), eq(account.providerId, 'credential')))
  return row?.password ?? undefined
}
export const dropPasswordHash = async (tx: Tx, userId: string): Promise<void> =>
  void (await tx.delete(account).where(and(eq(account.userId, userId), eq(account.providerId, 'credential'))))
export async function putPasswordHash(tx: Tx, userId: string, password: string): Promise<void> {
  const changed = await tx
    .update(account)
    .set({ password, updatedAt: sql`now()` })
    .where(and(eq(account.userId, userId), eq(account.providerId, 'credential')))
  if (changed.rowCount === 0)
    await tx
      .insert(account)
      .values({ id: `${userId}-password`, accountId: userId, providerId: 'credential', userId, password })
}

export type SessionLine = {
  id: string
  createdAt: Date
  updatedAt: Date
  ipAddress: string | null
  userAgent: string | null
}
export const sessionsOf = async (db: Conn, userId: string): Promise<SessionLine[]> =>
  await db
    .select({
      id: session.id,
      createdAt: session.createdAt,
      updatedAt: session.updatedAt,
      ipAddress: session.ipAddress,
      userAgent: session.userAgent,
    })
    .from(session)
    .where(and(eq(session.userId, userId), gt(session.expiresAt, sql`now()`)))
    .orderBy(sql`${session.updatedAt} desc`)
/** @param keep one that goes on. @returns how many ended */
export const endSessions = async (
  db: Conn,
  userId: string,
  { keep, only }: { keep?: string; only?: string } = {},
): Promise<number> =>
  (
    await db
      .delete(session)
      .where(
        and(
          eq(session.userId, userId),
          keep === undefined ? undefined : ne(session.id, keep),
          only === undefined ? undefined : eq(session.id, only),
        ),
      )
  ).rowCount ?? 0
export const isSessionOpen = async (db: Conn, id: string): Promise<boolean> =>
  (
    await db
      .select({ id: session.id })
      .from(session)
      .innerJoin(user, eq(user.id, session.userId))
      .where(and(eq(session.id, id), gt(session.expiresAt, sql`now()`), eq(user.state, 'active')))
  ).length > 0

export type Invitation = typeof invitations.$inferSelect
/** The newest link counts. */
export async function putInvitation(tx: Tx, row: typeof invitations.$inferInsert): Promise<void> {
  await tx.delete(invitations).where(eq(invitations.userId, row.userId))
  await tx.insert(invitations).values(row)
}
export const invitationOf = async (db: Conn, hash: string): Promise<Invitation | undefined> =>
  (
    await db
      .select()
      .from(invitations)
      .where(and(eq(invitations.hash, hash), gt(invitations.expiresAt, sql`now()`)))
  )[0]
/** @returns the invitation, if it exists and has not expired; it is deleted, so a link works once */
export const takeInvitation = async (tx: Tx, hash: string): Promise<Invitation | undefined> =>
  (
    await tx
      .delete(invitations)
      .where(and(eq(invitations.hash, hash), gt(invitations.expiresAt, sql`now()`)))
      .returning()
  )[0]

export type SecondFactor = typeof secondFactors.$inferSelect
export const secondFactorOf = async (db: Conn, userId: string): Promise<SecondFactor | undefined> =>
  (await db.select().from(secondFactors).where(eq(secondFactors.userId, userId)))[0]
/** A new secret, not confirmed yet; one that is confirmed stays. */
export async function beginSecondFactor(db: Conn, userId: string, sealedSecret: string): Promise<boolean> {
  const put = await db
    .insert(secondFactors)
    .values({ userId, sealedSecret })
    .onConflictDoUpdate({
      target: secondFactors.userId,
      set: { sealedSecret, lastStep: 0 },
      setWhere: sql`${secondFactors.confirmedAt} is null`,
    })
  return put.rowCount === 1
}
export const confirmSecondFactor = async (
  db: Conn,
  userId: string,
  step: number,
  recovery: string[],
): Promise<void> =>
  void (await db
    .update(secondFactors)
    .set({ confirmedAt: sql`now()`, lastStep: step, recovery })
    .where(eq(secondFactors.userId, userId)))
/** @returns false when a code of this step or a later one was taken before */
export const takeStep = async (db: Conn, userId: string, step: number): Promise<boolean> =>
  (
    await db
      .update(secondFactors)
      .set({ lastStep: step })
      .where(and(eq(secondFactors.userId, userId), sql`${secondFactors.lastStep} < ${step}`))
  ).rowCount === 1
/** @returns false when there is no such code any more */
export const takeRecoveryCode = async (db: Conn, userId: string, hash: string): Promise<boolean> =>
  (
    await db
      .update(secondFactors)
      .set({ recovery: sql`array_remove(${secondFactors.recovery}, ${hash})` })
      .where(and(eq(secondFactors.userId, userId), sql`${hash} = any(${secondFactors.recovery})`))
  ).rowCount === 1
export const dropSecondFactor = async (db: Conn, userId: string): Promise<boolean> =>
  (await db.delete(secondFactors).where(eq(secondFactors.userId, userId))).rowCount === 1

export type TryKind = 'pair' | 'address' | 'account'
export type TryKey = { kind: TryKind; key: string }
export type Tries = TryKey & { failures: number; ageMs: number }

export async function triesOf(db: Conn, keys: readonly TryKey[]): Promise<Tries[]> {
  return await db
    .select({
      kind: signInTries.kind,
      key: signInTries.key,
      failures: signInTries.failures,
      ageMs: sql<number>`(extract(epoch from now() - ${signInTries.lastAt}) * 1000)::float8`,
    })
    .from(signInTries)
    .where(
      inArray(
        signInTries.key,
        keys.map(({ key }) => key),
      ),
    )
}
export async function noteFailure(db: Conn, keys: readonly TryKey[], forgottenMs: number): Promise<void> {
  await db
    .insert(signInTries)
    .values(keys.map((one) => ({ ...one, failures: 1, lastAt: sql`now()` })))
    .onConflictDoUpdate({
      target: [signInTries.kind, signInTries.key],
      set: {
        failures: sql`case when ${signInTries.lastAt} < now() - ${forgottenMs} * interval '1 ms' then 1
          else ${signInTries.failures} + 1 end`,
        lastAt: sql`now()`,
      },
    })
}
export const forgetFailures = async (db: Conn, keys: readonly TryKey[]): Promise<void> =>
  void (await db.delete(signInTries).where(
    inArray(
      signInTries.key,
      keys.map(({ key }) => key),
    ),
  ))
export const dropOldTries = async (db: Conn, forgottenMs: number): Promise<void> =>
  void (await db
    .delete(signInTries)
    .where(sql`${signInTries.lastAt} < now() - ${forgottenMs} * interval '1 ms'`))
/** Whether somebody signed in to this account from this address before. */
export const isKnownAddress = async (db: Conn, userId: string, address: string): Promise<boolean> =>
  (
    await db
      .select({ id: session.id })
      .from(session)
      .where(and(eq(session.userId, userId), eq(session.ipAddress, address)))
      .limit(1)
  ).length > 0

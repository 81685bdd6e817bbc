/** People by an administrator: invited by a link, given a role, deactivated, given a new password; and what
 * each may do for themselves. */
import { createHash, randomBytes, randomUUID } from 'node:crypto'
import { nameProblem } from '@/core/people'
import type { MemberViewModel, YouViewModel } from '@/core/view-models'
import { note } from '@/db/audit'
import {
  addMember,
  changeMember,
  dropPasswordHash,
  dropSecondFactor,
  endSessions,
  invitationOf,
  listMembers,
  lockNames,
  memberById,
  otherAdmins,
  putInvitation,
  secondFactorOf,
  sessionsOf,
  takeInvitation,
  type Member,
} from '@/db/members'
import { listAgentNames } from '@/db/agents'
import { notify } from '@/db/notify'
import { ROLES } from '@/db/people.schema'
import type { Context } from '../context'
import { Problem } from '../http/problems'
import { validator, type BodyOf } from '../http/validator'
import type { Person } from './access'
import { requireGoodPassword, requirePassword, setPassword } from './password'

const DAY_MS = 86_400_000
const INVITED_MS = 7 * DAY_MS
const RESET_MS = DAY_MS

const text = (most: number) => ({ type: 'string', minLength: 1, maxLength: most }) as const
const role = { enum: ROLES } as const
export const inviteBody = validator({
  type: 'object',
  additionalProperties: false,
  required: ['name', 'username', 'role'],
  properties: { name: text(80), username: text(31), role },
})
export type InviteRequest = BodyOf<typeof inviteBody>
export const memberChangeBody = validator({
  type: 'object',
  additionalProperties: false,
  minProperties: 1,
  properties: { role, state: { enum: ['active', 'deactivated'] } },
})
export type MemberChange = BodyOf<typeof memberChangeBody>
export const passwordBody = validator({
  type: 'object',
  additionalProperties: false,
  required: ['current', 'next'],
  properties: { current: text(200), next: text(200) },
})
export const welcomeBody = validator({
  type: 'object',
  additionalProperties: false,
  required: ['link', 'password'],
  properties: { link: text(100), password: text(200) },
})

export async function memberViewModels(ctx: Pick<Context, 'db'>): Promise<MemberViewModel[]> {
  return (await listMembers(ctx.db)).map(({ seenAt, ...member }) => ({
    ...member,
    seenAt: seenAt?.toISOString() ?? null,
  }))
}

const hashOf = (link: string) => createHash('sha256').update(`link ${link}`).digest('hex')

/** Adds a person who may sign in once they have set a password. @returns the link by which they do, shown
 * this once
 * @throws {Problem} NAME_TAKEN, BODY_INVALID */
export async function invite(
  ctx: Context,
  { name, username, role: given }: InviteRequest,
  who: Person,
): Promise<{ id: string; link: string }> {
  const id = randomUUID()
  const link = newLink()
  const plain = { name: name.trim().replace(/\s+/g, ' '), username: username.trim().toLowerCase() }
  await ctx.db.transaction(async (tx) => {
    await lockNames(tx)
    const [members, agents] = [await listMembers(tx), await listAgentNames(tx)]
    const problem = nameProblem(plain, [
      ...members,
      ...agents.map((agent) => ({ name: agent, username: agent })),
    ])
    if (problem) throw new Problem('NAME_TAKEN', `${problem} Nothing was changed.`)
    await addMember(tx, { id, ...plain, role: given })
    await putInvitation(tx, {
      hash: hashOf(link),
      userId: id,
      purpose: 'invite',
      createdBy: who.id,
      expiresAt: new Date(Date.now() + INVITED_MS),
    })
    await note(tx, who.name, 'person.invite', plain.username, { id, name: plain.name, role: given })
    await notify(tx, 'settings')
  })
  return { id, link }
}

const newLink = () => randomBytes(24).toString('base64url')

/** @throws {Problem} NOT_FOUND, LAST_ADMIN */
export async function changePerson(
  ctx: Context,
  id: string,
  change: MemberChange,
  who: Person,
): Promise<void> {
  await ctx.db.transaction(async (tx) => {
    const others = await otherAdmins(tx, id)
    const member = await memberById(tx, id)
    if (!member) throw new Problem('NOT_FOUND', 'There is no such person.')
    if (change.state === 'active' && member.state === 'invited')
      throw new Problem('NOT_FOUND', `${member.name} has not set a password yet.`)
    const stays = (change.role ?? member.role) === 'admin' && (change.state ?? member.state) === 'active'
    if (isAdmin(member) && !stays && others === 0) throw new Problem('LAST_ADMIN')
    await changeMember(tx, id, change)
    if (change.state === 'deactivated') await endSessions(tx, id)
    await note(tx, who.name, 'person.change', member.username, { id, ...change })
    await notify(tx, 'settings')
  })
}

const isAdmin = ({ role: given, state }: Member) => given === 'admin' && state === 'active'

/** A link to set a password anew; the old one, and the person's sessions, end at once, and with
 * `secondFactor` that goes too.
 * @throws {Problem} NOT_FOUND */
export async function resetPerson(
  ctx: Context,
  id: string,
  { secondFactor }: { secondFactor: boolean },
  who: Person,
): Promise<{ link: string }> {
  const link = newLink()
  await ctx.db.transaction(async (tx) => {
    const member = await memberById(tx, id)
    if (!member || member.state === 'deactivated')
      throw new Problem('NOT_FOUND', 'There is no such person, or they are deactivated.')
    await putInvitation(tx, {
      hash: hashOf(link),
      userId: id,
      purpose: member.state === 'invited' ? 'invite' : 'reset',
      createdBy: who.id,
      expiresAt: new Date(Date.now() + (member.state === 'invited' ? INVITED_MS : RESET_MS)),
    })
    await dropPasswordHash(tx, id) // whoever else knew the old one is out, too
    await endSessions(tx, id)
    if (secondFactor) await dropSecondFactor(tx, id)
    await note(tx, who.name, 'person.reset', member.username, { id, secondFactor })
    await notify(tx, 'settings')
  })
  return { link }
}

/** Whom a link is for; `undefined` when it is none, or none any more. */
export async function personOfLink(
  ctx: Pick<Context, 'db'>,
  link: string,
): Promise<{ name: string; username: string } | undefined> {
  const invitation = await invitationOf(ctx.db, hashOf(link))
  return invitation && (await memberById(ctx.db, invitation.userId))
}

/** Sets the password a link is for. The link is good once. @throws {Problem} LINK_OVER, PASSWORD_WEAK */
export async function takeLink(ctx: Context, link: string, password: string): Promise<void> {
  await ctx.db.transaction(async (tx) => {
    const invitation = await takeInvitation(tx, hashOf(link))
    const member = invitation && (await memberById(tx, invitation.userId))
    if (!member || member.state === 'deactivated') throw new Problem('LINK_OVER')
    requireGoodPassword(password, member)
    await setPassword(tx, member.id, password)
    if (member.state === 'invited') await changeMember(tx, member.id, { state: 'active' })
    await endSessions(tx, member.id)
    await note(tx, member.name, 'password.set', member.username, { by: invitation.purpose })
    await notify(tx, 'settings')
  })
}

/** Sets one's own password; every other session ends. @throws {Problem} PASSWORD_WRONG, PASSWORD_WEAK */
export async function changeOwnPassword(
  ctx: Context,
  person: Person,
  { current, next }: { current: string; next: string },
): Promise<void> {
  await requirePassword(ctx, person.id, current)
  requireGoodPassword(next, person)
  await ctx.db.transaction(async (tx) => {
    await setPassword(tx, person.id, next)
    await endSessions(tx, person.id, { keep: person.sessionId })
    await note(tx, person.name, 'password.change', person.username)
  })
}

export async function youViewModel(
  ctx: Pick<Context, 'db'>,
  { id, name, username, role: given, sessionId }: Person,
): Promise<YouViewModel> {
  const [sessions, factor] = await Promise.all([sessionsOf(ctx.db, id), secondFactorOf(ctx.db, id)])
  return {
    name,
    username,
    role: given,
    secondFactor: factor?.confirmedAt
      ? { since: factor.confirmedAt.toISOString(), recoveryCodes: factor.recovery.length }
      : null,
    sessions: sessions.map(({ id: session, createdAt, updatedAt, ipAddress, userAgent }) => ({
      id: session,
      here: session === sessionId,
      createdAt: createdAt.toISOString(),
      seenAt: updatedAt.toISOString(),
      address: ipAddress ?? '',
      program: userAgent ?? '',
    })),
  }
}

/** Ends one session of one's own, or all but this one. @throws {Problem} NOT_FOUND */
export async function endOwnSessions(ctx: Pick<Context, 'db'>, person: Person, only?: string): Promise<void> {
  await ctx.db.transaction(async (tx) => {
    const ended = await endSessions(tx, person.id, only === undefined ? { keep: person.sessionId } : { only })
    if (only !== undefined && ended === 0) throw new Problem('NOT_FOUND', 'This session has ended already.')
    await note(tx, person.name, 'session.end', person.username, { sessions: ended })
  })
}

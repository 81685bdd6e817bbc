/** Authentication and authorisation of requests. */
import { createHash, randomBytes } from 'node:crypto'
import { type AgentRow } from '@/db/agents'
import { addToken, noteUse, revokeToken, takeToken, type KnownToken, type TokenPurpose } from '@/db/tokens'
import { note } from '@/db/audit'
import { agentOfToken } from '@/db/fast-path'
import { notify } from '@/db/notify'
import { actAs } from '@/db/actor'
import { ROLES, type PersonState, type RoleName } from '@/db/people.schema'
import { context, type Context } from '../context'
import { Problem } from '../http/problems'
import { liveHub } from '../live'
import { readUuid, isSameOrigin, type Asked } from '../http/route'
import { auth } from './auth'
import { noteRefusal } from './refusals'

export type Person = { id: string; name: string; username: string; role: RoleName; sessionId: string }

/** The signed-in person of a request, if any. */
export async function personOf(headers: Headers): Promise<Person | undefined> {
  const found = await auth().api.getSession({ headers })
  if (!found) return undefined
  const { id, name, username, role, state } = found.user as typeof found.user & {
    username?: string
    role?: RoleName
    state?: PersonState
  }
  if (state !== 'active') return undefined
  actAs(id)
  return { id, name, username: username ?? '', role: role ?? 'viewer', sessionId: found.session.id }
}

const rank = (role: RoleName) => ROLES.indexOf(role)
export const may = (person: Person, least: RoleName) => rank(person.role) >= rank(least)

/** For reading. @throws {Problem} SIGN_IN_FIRST */
export async function requirePerson(request: Request): Promise<Person> {
  const person = await personOf(request.headers)
  if (!person) throw new Problem('SIGN_IN_FIRST')
  return person
}

/** For reading what not everybody may. @throws {Problem} SIGN_IN_FIRST, ROLE_TOO_LOW */
export async function requireReader(request: Request, least: RoleName): Promise<Person> {
  const person = await requirePerson(request)
  if (!may(person, least))
    return refuse(
      person,
      request,
      new Problem('ROLE_TOO_LOW', `This is for the role ${least}; you are ${person.role}.`),
    )
  return person
}

/** For changing something: a role, and a request from our own pages. @throws {Problem} SIGN_IN_FIRST,
 * ORIGIN_FOREIGN, ROLE_TOO_LOW */
export async function requireRole(request: Request, least: RoleName): Promise<Person> {
  const person = await requirePerson(request)
  if (!isSameOrigin(request)) return refuse(person, request, new Problem('ORIGIN_FOREIGN'))
  if (!may(person, least))
    return refuse(
      person,
      request,
      new Problem(
        'ROLE_TOO_LOW',
        `This needs the role ${least}; you are ${person.role}. Nothing was changed.`,
      ),
    )
  return person
}

async function refuse(person: Person, request: Request, problem: Problem): Promise<never> {
  await noteRefusal(context().db, person.name, request, { why: problem.code, role: person.role })
  throw problem
}

export const hashToken = (token: string) => createHash('sha256').update(token).digest('hex')

/** The agent a token is for, the environments that one may serve, and the pool it begins in; absent: any. */
export type TokenScope = { agent?: string; environments?: string[]; pool?: string }

/** Makes a token; its text exists only in the answer. */
export async function makeToken(
  ctx: Pick<Context, 'db'>,
  purpose: TokenPurpose,
  name: string,
  createdBy: string,
  scope: TokenScope = {},
): Promise<string> {
  const token = `oak_${purpose}_${randomBytes(24).toString('base64url')}`
  await ctx.db.transaction(async (tx) => {
    await addToken(tx, {
      purpose,
      name,
      hash: hashToken(token),
      createdBy,
      scope: scope.agent ?? '',
      environments: scope.environments ?? [],
      pool: scope.pool ?? '',
    })
    await note(tx, createdBy, 'token.make', name, { purpose, ...scope })
  })
  await notify(ctx.db, 'settings')
  return token
}

/** From now on nobody gets in with it. @throws {Problem} NOT_FOUND */
export async function revoke(ctx: Pick<Context, 'db'>, id: string, who: string): Promise<void> {
  await ctx.db.transaction(async (tx) => {
    const name = await revokeToken(tx, readUuid(id))
    if (name === undefined) throw new Problem('NOT_FOUND', 'This token was revoked before.')
    await note(tx, who, 'token.revoke', name)
  })
  await notify(ctx.db, 'settings')
}

/** @throws {Problem} TOKEN_UNKNOWN */
export async function requireToken(
  request: Pick<Asked, 'headers'>,
  purpose: TokenPurpose,
): Promise<KnownToken> {
  return requireTokenText(bearerOf(request), purpose)
}

const bearerOf = (request: Pick<Asked, 'headers'>): string =>
  /^Bearer (\S+)$/.exec(request.headers.get('authorization') ?? '')?.[1] ?? ''

/** The same for a token that comes otherwise. @throws {Problem} TOKEN_UNKNOWN */
export async function requireTokenText(token: string, purpose: TokenPurpose): Promise<KnownToken> {
  const known = token ? await takeToken(context().db, hashToken(token), purpose) : undefined
  if (!known) throw new Problem('TOKEN_UNKNOWN')
  actAs(`token ${known.id}`)
  return known
}

/** An agent asks several times a second: it is looked up anew after this. A revoked token is forgotten at
 * once. */
const KNOWN_MS = 2000
type Known = { agent: AgentRow; until: number }
const known = new Map<string, Known>()
let listens = false

/** The agent a request speaks for: named in the address, and registered with the token it carries. @throws
 * {Problem} TOKEN_UNKNOWN, NOT_FOUND */
export async function requireAgent(request: Pick<Asked, 'headers'>, agentId: string): Promise<AgentRow> {
  const { db, connection } = context()
  if (!listens)
    liveHub(connection.url).on(({ topic }) => (topic === 'settings' || topic === '*') && known.clear())
  listens = true
  const hash = hashToken(bearerOf(request))
  const name = `${agentId} ${hash}`
  const last = known.get(name)
  if (last && last.until > Date.now()) return last.agent
  const found = await agentOfToken(connection.fastPath, readUuid(agentId), hash)
  if (found) {
    await noteUse(db, found.token)
    known.set(name, { agent: found.agent, until: Date.now() + KNOWN_MS })
    return found.agent
  }
  known.delete(name)
  await requireToken(request, 'agent')
  throw new Problem('NOT_FOUND', 'No agent of this token has this id; register first.')
}

import { eq, sql } from 'drizzle-orm'
import { TOTP, Secret } from 'otpauth'
import { auditLines } from '@/db/audit'
import { addPerson } from '@/db/people'
import { memberByUsername, sessionsOf } from '@/db/members'
import { session } from '@/db/people.schema'
import { audit } from '@/db/schema'
import { sealAudit, verifyAudit } from '../audit'
import { testContext, type TestContext } from '../testing/context'
import type { Person } from './access'
import { auth } from './auth'
import {
  changeOwnPassword,
  changePerson,
  checkSecondFactor,
  confirmWithCode,
  endOwnSessions,
  invite,
  memberViewModels,
  personOf,
  personOfLink,
  removeSecondFactor,
  resetPerson,
  signIn,
  startSecondFactor,
  takeLink,
  youViewModel,
} from '.'

/** The library and the code around it are the real ones; only the context is the test's. */
let ctx: TestContext
const shared = globalThis as { oakContext?: unknown; oakAuth?: unknown }
const PASSWORD = 'a calm crossing'
let passwordHash: string
let wren: Person
beforeAll(async () => {
  ctx = await testContext()
  shared.oakContext = ctx
  delete shared.oakAuth
  passwordHash = await (await auth().$context).password.hash(PASSWORD) // once: it takes long on purpose
})
afterAll(async () => {
  delete shared.oakContext
  delete shared.oakAuth
  await ctx.end()
})
beforeEach(async () => {
  await ctx.db.execute(sql`truncate "user", audit, sign_in_tries cascade`)
  await addPerson(ctx.db, { ...WREN, id: 'person-wren', passwordHash })
  wren = await personFor('wren')
})
const WREN = { name: 'Wren Adeyemi', username: 'wren', role: 'admin' } as const

async function personFor(username: string, sessionId = 'none'): Promise<Person> {
  const { id, name, role } = (await memberByUsername(ctx.db, username))!
  return { id, name, username, role, sessionId }
}
const HOST = { host: 'oak.test' }
const come = (
  password: string,
  {
    address = '198.51.100.7',
    username = 'wren',
    code,
  }: { address?: string; username?: string; code?: string } = {},
) => signIn(ctx, { username, password, ...(code && { code }) }, address, new Headers(HOST))
const cookieOf = (answer: Response) =>
  answer.headers
    .getSetCookie()
    .map((cookie) => cookie.split(';', 1)[0])
    .join('; ')
const whoIs = (cookie: string) => personOf(new Headers({ ...HOST, cookie }))

describe('signing in', () => {
  test('makes a session whose token the database does not hold, from where it really came', async () => {
    const answer = await come(PASSWORD)
    const cookie = cookieOf(answer)
    expect(await whoIs(cookie)).toMatchObject({ username: 'wren', role: 'admin' })
    const [row] = await ctx.db.select().from(session)
    expect(decodeURIComponent(cookie)).not.toContain(row!.token)
    expect(row).toMatchObject({ ipAddress: '198.51.100.7' })
    expect(await whoIs(`oak.session_token=${row!.token}`)).toBeUndefined()
  })
  test('a wrong password and a name of nobody are the same to who tries', async () => {
    await expect(come('wrong')).rejects.toMatchObject({ code: 'SIGN_IN_WRONG' })
    await expect(come('wrong', { username: 'nobody-here' })).rejects.toMatchObject({ code: 'SIGN_IN_WRONG' })
    expect(
      (await auditLines(ctx.db, { action: 'sign-in.fail' }, 9)).map(({ subject, actor }) => [subject, actor]),
    ).toEqual([
      ['nobody-here', ''],
      ['wren', wren.id],
    ])
  })
  test('tries have to wait ever longer, the right password too; who comes from elsewhere does not', async () => {
    await come(PASSWORD, { address: '203.0.113.5' })
    for (let i = 0; i < 5; i++) await expect(come('wrong')).rejects.toMatchObject({ code: 'SIGN_IN_WRONG' })
    await expect(come(PASSWORD)).rejects.toMatchObject({
      code: 'SIGN_IN_WAIT',
      detail: { waitMs: expect.any(Number) as number },
    })
    await expect(come(PASSWORD, { address: '203.0.113.5' })).resolves.toMatchObject({ status: 200 })
    await ctx.db.execute(sql`update sign_in_tries set last_at = last_at - interval '2 seconds'`)
    await expect(come(PASSWORD)).resolves.toMatchObject({ status: 200 })
  })
  test('many accounts tried from one address: that address waits, whoever it tries next', async () => {
    for (let i = 0; i < 20; i++)
      await expect(come('wrong', { username: `guess-${i}` })).rejects.toMatchObject({ code: 'SIGN_IN_WRONG' })
    await expect(come(PASSWORD)).rejects.toMatchObject({ code: 'SIGN_IN_WAIT' })
    await expect(come(PASSWORD, { address: '203.0.113.5' })).resolves.toMatchObject({ status: 200 })
  })
})

describe('a person', () => {
  const asked = { name: 'Isla Brandt', username: 'isla', role: 'tester' as const }
  test('is invited by a link that is good once, and signs in with the password they set', async () => {
    const { link } = await invite(ctx, asked, wren)
    await expect(come('x', { username: 'isla' })).rejects.toMatchObject({ code: 'SIGN_IN_WRONG' })
    expect(await personOfLink(ctx, link)).toMatchObject({ name: 'Isla Brandt' })
    await expect(takeLink(ctx, link, 'short')).rejects.toMatchObject({ code: 'PASSWORD_WEAK' })
    await expect(takeLink(ctx, link, 'calm '.repeat(26))).rejects.toMatchObject({ code: 'PASSWORD_WEAK' })
    await expect(takeLink(ctx, link, 'isla-likes-boats')).rejects.toMatchObject({ code: 'PASSWORD_WEAK' })
    await takeLink(ctx, link, PASSWORD)
    await expect(takeLink(ctx, link, PASSWORD)).rejects.toMatchObject({ code: 'LINK_OVER' })
    expect(await personOfLink(ctx, link)).toBeUndefined()
    expect(await whoIs(cookieOf(await come(PASSWORD, { username: 'isla' })))).toMatchObject({
      role: 'tester',
    })
  })
  test.each(['isla-b', 'isla.b', 'i_b', '7b', 'a'.repeat(31)])(
    'whoever is invited as %s can sign in so',
    async (username) => {
      const { link } = await invite(ctx, { ...asked, username }, wren)
      await takeLink(ctx, link, PASSWORD)
      await expect(come(PASSWORD, { username })).resolves.toMatchObject({ status: 200 })
    },
  )
  test.each([
    ['the name of another', { ...asked, name: 'WREN  adeyemi' }],
    ['the username of another', { ...asked, username: 'wren' }],
    ['a name that only looks like another’s', { ...asked, name: 'Wrеn Adеyemi' }],
    ['what the product calls itself', { ...asked, name: 'A signed message' }],
  ])(
    'does not take %s',
    async (_, request) =>
      await expect(invite(ctx, request, wren)).rejects.toMatchObject({ code: 'NAME_TAKEN' }),
  )
  test('two invited by the same name at once: one is', async () => {
    const both = await Promise.allSettled([
      invite(ctx, asked, wren),
      invite(ctx, { ...asked, username: 'isla-b' }, wren),
    ])
    expect(both.map(({ status }) => status).sort()).toEqual(['fulfilled', 'rejected'])
  })
  test('who is deactivated is signed out at once, and may not come back until let in again', async () => {
    const { link } = await invite(ctx, asked, wren)
    await takeLink(ctx, link, PASSWORD)
    const cookie = cookieOf(await come(PASSWORD, { username: 'isla' }))
    const isla = await personFor('isla')
    await changePerson(ctx, isla.id, { state: 'deactivated' }, wren)
    expect(await whoIs(cookie)).toBeUndefined()
    await expect(come(PASSWORD, { username: 'isla' })).rejects.toMatchObject({ code: 'SIGN_IN_WRONG' })
    await changePerson(ctx, isla.id, { state: 'active' }, wren)
    await expect(come(PASSWORD, { username: 'isla' })).resolves.toMatchObject({ status: 200 })
  })
  test('the last administrator stays one', async () => {
    for (const change of [{ role: 'tester' as const }, { state: 'deactivated' as const }]) {
      await expect(changePerson(ctx, wren.id, change, wren)).rejects.toMatchObject({ code: 'LAST_ADMIN' })
    }
  })
  test('is reset: sessions end, the second factor goes, and a new password is set by a link', async () => {
    const cookie = cookieOf(await come(PASSWORD))
    const { link } = await resetPerson(ctx, wren.id, { secondFactor: true }, wren)
    expect(await whoIs(cookie)).toBeUndefined()
    // whoever else knew it is out, too
    await expect(come(PASSWORD)).rejects.toMatchObject({ code: 'SIGN_IN_WRONG' })
    await takeLink(ctx, link, 'another calm crossing')
    await expect(come(PASSWORD)).rejects.toMatchObject({ code: 'SIGN_IN_WRONG' })
    await expect(come('another calm crossing')).resolves.toMatchObject({ status: 200 })
  })
  test('changes their password with the one they have, and stays only where they do it', async () => {
    const [here, elsewhere] = [
      cookieOf(await come(PASSWORD)),
      cookieOf(await come(PASSWORD, { address: '203.0.113.5' })),
    ]
    const me = (await whoIs(here))!
    await expect(
      changeOwnPassword(ctx, me, { current: 'wrong', next: 'another calm crossing' }),
    ).rejects.toMatchObject({ code: 'PASSWORD_WRONG' })
    await changeOwnPassword(ctx, me, { current: PASSWORD, next: 'another calm crossing' })
    expect([await whoIs(here), await whoIs(elsewhere)]).toMatchObject([{ username: 'wren' }, undefined])
  })
  test('sees where they are signed in, and ends it', async () => {
    const [here] = [
      cookieOf(await come(PASSWORD)),
      await come(PASSWORD, { address: '203.0.113.5' }),
      await come(PASSWORD),
    ]
    const me = (await whoIs(here))!
    const { sessions } = await youViewModel(ctx, me)
    expect(sessions.map(({ here: is }) => is).filter(Boolean)).toHaveLength(1)
    expect(await memberViewModels(ctx)).toMatchObject([
      { username: 'wren', secondFactor: false, seenAt: expect.any(String) as string },
    ])
    await endOwnSessions(ctx, me, sessions.find((one) => !one.here)!.id)
    expect(await sessionsOf(ctx.db, me.id)).toHaveLength(2)
    await endOwnSessions(ctx, me)
    expect((await sessionsOf(ctx.db, me.id)).map(({ id }) => id)).toEqual([me.sessionId])
    await addPerson(ctx.db, {
      id: 'other',
      name: 'Other',
      username: 'other',
      role: 'viewer',
      passwordHash: 'x',
    })
    await expect(endOwnSessions(ctx, { ...me, id: 'other' }, me.sessionId)).rejects.toMatchObject({
      code: 'NOT_FOUND',
    })
  })
})

describe('a second factor', () => {
  const codeOf = (secret: string, stepsAhead = 0) =>
    new TOTP({ secret: Secret.fromBase32(secret) }).generate({ timestamp: Date.now() + stepsAhead * 30_000 })
  test('counts once a code confirms it; then each code is good once, and so is each recovery code', async () => {
    const { secret } = await startSecondFactor(ctx, wren)
    await expect(come(PASSWORD)).resolves.toMatchObject({ status: 200 })
    await expect(confirmWithCode(ctx, wren, '000000')).rejects.toMatchObject({ code: 'CODE_WRONG' })
    const codes = await confirmWithCode(ctx, wren, codeOf(secret))
    await expect(come(PASSWORD)).rejects.toMatchObject({ code: 'CODE_MISSING' })
    await expect(come(PASSWORD, { code: codeOf(secret) })).rejects.toMatchObject({ code: 'CODE_WRONG' })
    const next = codeOf(secret, 1)
    await expect(come(PASSWORD, { code: next })).resolves.toMatchObject({ status: 200 })
    await expect(come(PASSWORD, { code: next })).rejects.toMatchObject({ code: 'CODE_WRONG' })
    await expect(come(PASSWORD, { code: codes[0]!.toUpperCase() })).resolves.toMatchObject({ status: 200 })
    await expect(come(PASSWORD, { code: codes[0]! })).rejects.toMatchObject({ code: 'CODE_WRONG' })
    expect(await youViewModel(ctx, wren)).toMatchObject({ secondFactor: { recoveryCodes: 9 } })
    expect(JSON.stringify((await ctx.db.execute(sql`select * from second_factors`)).rows)).not.toContain(
      secret,
    )
  })
  test('codes are tried as seldom as passwords', async () => {
    const { secret } = await startSecondFactor(ctx, wren)
    await confirmWithCode(ctx, wren, codeOf(secret))
    for (let i = 0; i < 5; i++)
      await expect(come(PASSWORD, { code: '000000' })).rejects.toMatchObject({ code: 'CODE_WRONG' })
    await expect(come(PASSWORD, { code: codeOf(secret, 1) })).rejects.toMatchObject({ code: 'SIGN_IN_WAIT' })
  })
  test('is taken off with the password', async () => {
    const { secret } = await startSecondFactor(ctx, wren)
    await confirmWithCode(ctx, wren, codeOf(secret))
    await expect(startSecondFactor(ctx, wren)).rejects.toMatchObject({ code: 'NAME_TAKEN' })
    await expect(removeSecondFactor(ctx, wren, 'wrong')).rejects.toMatchObject({ code: 'PASSWORD_WRONG' })
    await removeSecondFactor(ctx, wren, PASSWORD)
    expect(await checkSecondFactor(ctx, wren, undefined)).toBe('good')
  })
})

describe('the audit trail', () => {
  test('is a chain: what is changed, taken out or put in is found', async () => {
    await come(PASSWORD)
    await invite(ctx, { name: 'Isla Brandt', username: 'isla', role: 'tester' }, wren)
    await come('wrong').catch(() => {})
    expect(await verifyAudit(ctx)).toMatchObject({ sound: true, lines: 0, unsealed: 3 })
    expect(await sealAudit(ctx)).toBe(3)
    const sound = await verifyAudit(ctx)
    expect(sound).toMatchObject({ sound: true, lines: 3, unsealed: 0 })
    const [first, second] = await ctx.db.select().from(audit).orderBy(audit.id)
    await ctx.db.update(audit).set({ who: 'Somebody else' }).where(eq(audit.id, first!.id))
    expect(await verifyAudit(ctx)).toMatchObject({
      sound: false,
      seal: 1,
      why: 'line 1 is not what was sealed',
    })
    await ctx.db.update(audit).set({ who: first!.who }).where(eq(audit.id, first!.id))
    expect(await verifyAudit(ctx)).toEqual(sound)
    await ctx.db.delete(audit).where(eq(audit.id, second!.id))
    expect(await verifyAudit(ctx)).toMatchObject({ sound: false, why: 'line 2 is missing' })
  })
  test('two that seal at once make one chain', async () => {
    for (let i = 0; i < 5; i++) await come('wrong').catch(() => {})
    await Promise.all([sealAudit(ctx), sealAudit(ctx), sealAudit(ctx)])
    expect(await verifyAudit(ctx)).toMatchObject({ sound: true, lines: 5 })
  })
})

/** Tokens and roles on the real database: who gets in with what, and for how long. */
import { eq } from 'drizzle-orm'
import { tokens } from '@/db/schema'
import type { Context } from '../context'
import { addAgent, testContext, type TestContext } from '../testing/context'
import {
  hashToken,
  makeToken,
  may,
  requireAgent,
  requireToken,
  requireTokenText,
  revoke,
  type Person,
} from './access'

const shared = globalThis as { oakContext?: Context }
let ctx: TestContext
beforeAll(async () => {
  ctx = await testContext()
  shared.oakContext = ctx // what requests are looked up in
})
afterAll(async () => {
  delete shared.oakContext
  await ctx.end()
})

const asked = (token: string) => ({ headers: new Headers({ authorization: `Bearer ${token}` }) })
const idOf = async (name: string) => (await ctx.db.select().from(tokens).where(eq(tokens.name, name)))[0]!.id

test('a token is kept as a hash alone, and lets in for what it was made for', async () => {
  const token = await makeToken(ctx, 'ci', 'harbour CI', 'Wren')
  expect(token).toMatch(/^oak_ci_[\w-]{32}$/)
  expect(JSON.stringify(await ctx.db.select().from(tokens))).not.toContain(token.slice(-20))
  expect(await requireToken(asked(token), 'ci')).toMatchObject({ name: 'harbour CI', scope: '' })
  await expect(requireToken(asked(token), 'agent')).rejects.toMatchObject({ code: 'TOKEN_UNKNOWN' })
})

test.each([
  ['nothing', new Headers()],
  ['another scheme', new Headers({ authorization: 'Basic d3Jlbjp4' })],
  ['a made-up token', new Headers({ authorization: 'Bearer oak_ci_made-up' })],
  ['two words', new Headers({ authorization: 'Bearer oak ci' })],
])('%s lets nobody in', async (_, headers) => {
  await expect(requireToken({ headers }, 'ci')).rejects.toMatchObject({ code: 'TOKEN_UNKNOWN' })
})

test('a revoked token lets in no more; revoked again, that is said', async () => {
  const token = await makeToken(ctx, 'calendar', 'the phone', 'Wren')
  expect((await requireTokenText(token, 'calendar')).name).toBe('the phone')
  await revoke(ctx, await idOf('the phone'), 'Wren')
  await expect(requireTokenText(token, 'calendar')).rejects.toMatchObject({ code: 'TOKEN_UNKNOWN' })
  await expect(revoke(ctx, await idOf('the phone'), 'Wren')).rejects.toMatchObject({ code: 'NOT_FOUND' })
})

test('an agent is who its token registered; with the token of another it is nobody', async () => {
  const [one, two] = [await addAgent(ctx, 'one'), await addAgent(ctx, 'two')]
  const token = await makeToken(ctx, 'agent', 'gate agents', 'Wren')
  await ctx.db
    .update(tokens)
    .set({ hash: hashToken('the-real-one') })
    .where(eq(tokens.id, one.tokenId!))
  expect((await requireAgent(asked('the-real-one'), one.id)).name).toBe('one')
  await expect(requireAgent(asked('the-real-one'), two.id)).rejects.toMatchObject({ code: 'NOT_FOUND' })
  await expect(requireAgent(asked(token), one.id)).rejects.toMatchObject({ code: 'NOT_FOUND' })
  await expect(requireAgent(asked('none-at-all'), one.id)).rejects.toMatchObject({ code: 'TOKEN_UNKNOWN' })
  await expect(requireAgent(asked('the-real-one'), 'no id')).rejects.toMatchObject({ code: 'NOT_FOUND' })
})

test('each role may what those below it may, and nothing more', () => {
  const roles = ['viewer', 'tester', 'coordinator', 'admin'] as const
  const allowed = roles.map((role) =>
    roles.map((least) =>
      may({ id: '1', name: 'N', username: 'n', role, sessionId: 's' } satisfies Person, least),
    ),
  )
  expect(allowed).toEqual([
    [true, false, false, false],
    [true, true, false, false],
    [true, true, true, false],
    [true, true, true, true],
  ])
})

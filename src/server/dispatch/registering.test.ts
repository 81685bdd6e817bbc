import { sql } from 'drizzle-orm'
import { AGENT_PROTOCOL } from '@/core/execution'
import { listAgents } from '@/db/agents'
import { addToken, takeToken } from '@/db/tokens'
import { registerAgent } from '.'
import { addAgent, testContext, type TestContext } from '../testing/context'

/** Agents that come for the first time, or again. */
let ctx: TestContext
beforeAll(async () => {
  ctx = await testContext()
})
afterAll(() => ctx.end())
afterEach(async () => {
  await ctx.db.execute(sql`truncate agents cascade`)
})

test('a token that is made for a pool puts its agent there, whatever it says of itself', async () => {
  const id = await addToken(ctx.db, {
    purpose: 'agent',
    name: 'gate',
    hash: 'gate',
    createdBy: 'test',
    pool: 'Gate',
  })
  const of = {
    name: 'gate',
    instance: 'i',
    pool: 'Shore',
    version: '1',
    protocol: AGENT_PROTOCOL,
    seats: 1,
    environments: ['wide'],
    simulated: true,
  }
  expect((await registerAgent(ctx, (await takeToken(ctx.db, 'gate', 'agent'))!, of)).pool).toBe('Gate')
  // once it is known, people say where it is
  expect((await registerAgent(ctx, { id }, { ...of, instance: 'j' })).pool).toBe('Gate')
})
test('a name of another token is refused', async () => {
  await addAgent(ctx, 'one')
  const { tokenId } = await addAgent(ctx, 'two')
  await expect(
    registerAgent(
      ctx,
      { id: tokenId! },
      {
        name: 'one',
        instance: 'i',
        pool: 'p',
        version: '1',
        protocol: AGENT_PROTOCOL,
        seats: 1,
        environments: ['wide'],
        simulated: false,
      },
    ),
  ).rejects.toMatchObject({ code: 'AGENT_NAME_TAKEN' })
})
test('an agent that speaks another protocol is told what to replace, and is not in the fleet', async () => {
  const { tokenId } = await addAgent(ctx, 'one')
  const newer = {
    name: 'newer',
    instance: 'i',
    pool: 'p',
    version: '9.0.0',
    protocol: 9,
    seats: 1,
    environments: ['wide'],
    simulated: false,
  }
  await expect(registerAgent(ctx, { id: tokenId! }, newer)).rejects.toMatchObject({
    code: 'PROTOCOL_UNSERVED',
    message: expect.stringContaining('Upgrade the server first') as unknown,
  })
  expect((await listAgents(ctx.db, ctx.leaseMs)).map(({ name }) => name)).toEqual(['one'])
})

import { sql } from 'drizzle-orm'
import { claimWork } from '../dispatch'
import { cancelRun, startRun } from '../runs'
import {
  addAgent,
  seedFiles,
  simpleCase,
  simpleSuite,
  testContext,
  type TestContext,
} from '../testing/context'
import { liveStandingViewModel } from './live'

let ctx: TestContext
beforeAll(async () => {
  ctx = await testContext()
  await seedFiles(ctx, {
    'a.case.yaml': simpleCase('a'),
    'b.case.yaml': simpleCase('b'),
    'one.suite.yaml': simpleSuite('one', ['a']),
    'two.suite.yaml': simpleSuite('two', ['a', 'b']),
  })
})
afterAll(() => ctx.end())
beforeEach(async () => void (await ctx.db.execute(sql`truncate runs, agents cascade`)))

const start = (suite: string, environments = ['wide']) =>
  startRun(ctx, { suite, environments, build: '1.0', retries: 0, limitMs: 60_000 }, 'Wren')
const wanted = async (id: string, at = ctx) => (await liveStandingViewModel(at, id)).wantedBy

test('a run that could begin on the seat and on no other is told; one that finds another seat is not', async () => {
  const agent = await addAgent(ctx, 'tolva-01')
  await start('one')
  const { attemptId } = (await claimWork(ctx, agent))!
  expect(await wanted(attemptId)).toBeNull()
  const waiting = await start('two')
  await start('one')
  expect(await wanted(attemptId)).toMatchObject({ id: waiting, waiting: 2 })
  await addAgent(ctx, 'tolva-02', 1, ['narrow'])
  expect(await wanted(attemptId)).toMatchObject({ id: waiting })
  const other = await addAgent(ctx, 'tolva-03')
  expect(await wanted(attemptId)).toBeNull()
  // nobody waits for an agent that does not come back
  await ctx.db.execute(sql`update agents set heartbeat_at = now() - interval '1 day' where id = ${other.id}`)
  expect(await wanted(attemptId)).toMatchObject({ id: waiting })
  await cancelRun(ctx, waiting, 'Wren')
  expect(await wanted(attemptId)).toMatchObject({ waiting: 1 })
})

test('what the agent does not serve does not wait for it, and nothing waits for a seat that is given back', async () => {
  const agent = await addAgent(ctx, 'tolva-01', 1, ['wide'])
  await addAgent(ctx, 'tolva-02', 1, ['narrow'])
  await start('one')
  const { attemptId } = (await claimWork(ctx, agent))!
  await start('one', ['narrow'])
  expect(await wanted(attemptId)).toBeNull()
  await start('one')
  expect(await wanted(attemptId)).not.toBeNull()
  await ctx.db.execute(sql`update attempts set state = 'ended' where id = ${attemptId}`)
  expect(await wanted(attemptId)).toBeNull()
  expect(await liveStandingViewModel(ctx, attemptId)).toMatchObject({ over: true })
})

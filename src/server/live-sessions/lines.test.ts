import { sql } from 'drizzle-orm'
import type { LiveLimits } from '@/core/live'
import { closeHub } from '../live'
import { putLiveLimits, startRun } from '../runs'
import { claimWork } from '../dispatch'
import {
  addAgent,
  seedFiles,
  simpleCase,
  simpleSuite,
  testContext,
  type TestContext,
} from '../testing/context'
import { Problem } from '../http/problems'
import { askLog } from '../reading'
import { attemptViewModel, liveSessionViewModel } from '../view-models'
import { followLines, forgetLine, lineElsewhere, noteLine, requireGoingOn, roomOf, type Line } from '.'

const [HERE, THERE] = ['http://127.0.0.1:1', 'http://127.0.0.1:2']

let ctx: TestContext
beforeEach(async () => {
  ctx = await testContext()
  const cases = { 'a.case.yaml': simpleCase('a'), 'b.case.yaml': simpleCase('b') }
  await seedFiles(ctx, { ...cases, 'two.suite.yaml': simpleSuite('two', ['a', 'b']) })
})
afterEach(async () => {
  await closeHub()
  await ctx.end()
})

const LIVE = {
  cases: ['a'],
  environments: ['wide'],
  build: '1.0',
  retries: 0,
  limitMs: 60_000,
  rehearsal: true,
  live: true,
}

/** @returns the id of the attempt of a live session that goes on */
async function session(): Promise<string> {
  const agent = await addAgent(ctx, 'tolva-01', 4)
  await startRun(ctx, LIVE, 'Wren')
  const work = (await claimWork(ctx, agent))!
  expect(work).toMatchObject({ live: true, how: { video: 'never' } })
  return work.attemptId
}
const person = () => {
  const closed: [string, boolean][] = []
  const line: Line = {
    send: () => {},
    waiting: 0,
    close: (why, again = false) => void closed.push([why, again]),
  }
  return { line, closed }
}

test('a person who comes to another process than the agent is led there, and not when it left', async () => {
  const id = await session()
  expect(await lineElsewhere(ctx, id, HERE)).toBeUndefined()
  await noteLine(ctx, id, THERE)
  expect([await lineElsewhere(ctx, id, HERE), await lineElsewhere(ctx, id, THERE)]).toEqual([
    THERE,
    undefined,
  ])
  await forgetLine(ctx, id, HERE) // it has none there
  expect(await lineElsewhere(ctx, id, HERE)).toBe(THERE)
  await forgetLine(ctx, id, THERE)
  expect(await lineElsewhere(ctx, id, HERE)).toBeUndefined()
})

test('who was there before the agent came elsewhere is told to come again', async () => {
  followLines(ctx)
  const id = await session()
  const { line, closed } = person()
  roomOf(ctx, id).personCame({ name: 'Wren', mayDrive: true }, line)
  while (closed.length === 0) await noteLine(ctx, id, THERE) // the listener connects meanwhile
  expect(closed[0]).toEqual([expect.any(String), true])
})

test.each<[string, object]>([
  ['of two cases', { cases: ['a', 'b'] }],
  ['on two environments', { environments: ['wide', 'narrow'] }],
  ['that counts', { rehearsal: false }],
])('a live session %s is refused', async (_, change) => {
  await addAgent(ctx, 'tolva-01', 4)
  await expect(startRun(ctx, { ...LIVE, ...change }, 'Wren')).rejects.toMatchObject({ code: 'BODY_INVALID' })
})

test('no more sessions go on at once than are allowed', async () => {
  await addAgent(ctx, 'tolva-01', 4)
  for (let i = 0; i < 12; i++) await startRun(ctx, LIVE, 'Wren')
  await expect(startRun(ctx, LIVE, 'Wren')).rejects.toMatchObject({ code: 'BUSY' })
})

test('of two that begin at the same moment one takes the last place, in all and of a pool', async () => {
  await addAgent(ctx, 'tolva-01', 4, ['wide'], 'Shore')
  const limited: LiveLimits[] = [
    { all: 1, pools: {} },
    { all: 12, pools: { Shore: 1 } },
  ]
  for (const limits of limited) {
    await ctx.db.execute(sql`truncate runs cascade`)
    await putLiveLimits(ctx, limits, 'Tomas')
    const started = await Promise.allSettled(['Wren', 'Joss', 'Priya'].map((who) => startRun(ctx, LIVE, who)))
    expect(started.filter(({ status }) => status === 'fulfilled')).toHaveLength(1)
    for (const one of started)
      if (one.status === 'rejected') expect(one.reason).toMatchObject({ code: 'BUSY' })
  }
})

test('a pool takes no more sessions than it may: the next one is given to another pool', async () => {
  const shore = await addAgent(ctx, 'tolva-01', 4, ['wide'], 'Shore')
  const quay = await addAgent(ctx, 'tolva-02', 4, ['wide'], 'Quay')
  await putLiveLimits(ctx, { all: 12, pools: { Shore: 1, Quay: 1 } }, 'Tomas')
  await startRun(ctx, LIVE, 'Wren')
  await startRun(ctx, LIVE, 'Joss')
  for (const agent of [shore, quay]) {
    expect(await claimWork(ctx, agent)).toMatchObject({ live: true })
    expect(await claimWork(ctx, agent)).toBeUndefined()
  }
  const refused = startRun(ctx, LIVE, 'Priya')
  await expect(refused).rejects.toMatchObject({ code: 'BUSY' })
  await expect(refused).rejects.toThrow(/Quay 1/)
})

test('a session that is over has no lines', async () => {
  await expect(requireGoingOn(ctx, '00000000-0000-4000-8000-000000000000')).rejects.toBeInstanceOf(Problem)
  await expect(requireGoingOn(ctx, await session())).resolves.toBeUndefined()
})

test('its log has no steps that wait, and leads to the browser as long as that is there', async () => {
  const id = await session()
  const seen = await attemptViewModel(ctx, id)
  expect([seen.live, await askLog(ctx, id, { ask: 'all' })]).toEqual([true, []])
  const { runId } = seen
  const page = await liveSessionViewModel(ctx, id)
  expect(page).toMatchObject({ attemptId: id, runId, caseKey: 'a', build: '1.0', ended: false })
  await startRun(ctx, { ...LIVE, cases: ['b'], live: false }, 'Wren')
  const other = (await claimWork(ctx, await addAgent(ctx, 'tolva-02', 1)))!
  expect((await attemptViewModel(ctx, other.attemptId)).live).toBe(false)
  await expect(liveSessionViewModel(ctx, other.attemptId)).rejects.toMatchObject({ code: 'NOT_FOUND' })
})

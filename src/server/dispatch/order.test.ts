/** Who gets what first: lanes of the plan, stealing, priorities between runs, fair shares between rotations;
 * and what is told to agents. */
import { and, eq, sql } from 'drizzle-orm'
import type { Work } from '@/core/execution'
import type { AgentRow } from '@/db/agents'
import { agents, attempts, caseRuns, liveScreens, runs } from '@/db/schema'
import { noteProgress } from '@/db/dispatch'
import { attemptRow, runViewModel } from '@/db/runs'
import { keepScreen, serveScreen, watchScreens, dropScreens } from '../live'
import { cancelRun, pauseRun, startRun } from '../runs'
import {
  addAgent,
  seedFiles,
  simpleCase,
  simpleSuite,
  testContext,
  type TestContext,
} from '../testing/context'
import { claimWork, finishAttempt, heartbeat, injectFault, wakeStalled } from '.'

const KEYS = ['a', 'b', 'c', 'd']
let ctx: TestContext
beforeAll(async () => {
  ctx = await testContext()
  await seedFiles(ctx, {
    ...Object.fromEntries(
      KEYS.map((key) => [`${key}.case.yaml`, simpleCase(key, key === 'd' ? 'uses: [desk]\n' : '')]),
    ),
    's.suite.yaml': simpleSuite('s', ['a', 'b', 'c']),
    'nested.suite.yaml': 'suite: nested\ntitle: N\nentries:\n  - case: a\n    entries:\n      - case: b\n',
  })
})
afterAll(() => ctx.end())
beforeEach(async () => void (await ctx.db.execute(sql`truncate runs, agents, exclusive_holds cascade`)))

const start = (more: object = {}) =>
  startRun(
    ctx,
    { suite: 's', environments: ['wide'], build: '1.0', retries: 0, limitMs: 60_000, ...more },
    'Wren',
  )
const claim = async (agent: AgentRow): Promise<Work> => (await claimWork(ctx, agent))!
const plan = (run: number, key: string, laneAgent: string, laneMs: number) =>
  ctx.db
    .update(caseRuns)
    .set({ laneAgent, laneMs })
    .where(and(eq(caseRuns.runId, run), eq(caseRuns.caseKey, key)))
const pass = (work: Work) => finishAttempt(ctx, work, { outcome: 'passed', ms: 5 })

test('an agent does its own lane first, in the plan’s order, then what other lanes are latest with', async () => {
  const [one] = [await addAgent(ctx, 'one', 3), await addAgent(ctx, 'two', 1)]
  const run = await start()
  await plan(run, 'a', 'two', 0)
  await plan(run, 'b', 'one', 900)
  await plan(run, 'c', 'one', 100)
  expect([(await claim(one)).case.key, (await claim(one)).case.key, (await claim(one)).case.key]).toEqual([
    'c',
    'b',
    'a',
  ])
})
test('of several lanes what should have begun earliest is stolen', async () => {
  const helper = await addAgent(ctx, 'helper', 2)
  const run = await start()
  await plan(run, 'a', 'gone', 500)
  await plan(run, 'b', 'slow', 100)
  await plan(run, 'c', 'slow', 700)
  expect([(await claim(helper)).case.key, (await claim(helper)).case.key]).toEqual(['b', 'a'])
})
test('a pause at the very moment an attempt begins is not missed', async () => {
  const one = await addAgent(ctx, 'one', 1)
  const run = await start()
  const work = await claim(one)
  const row = (await attemptRow(ctx.db, work.attemptId))!
  let paused: Promise<void> | undefined
  await ctx.db.transaction(async (tx) => {
    await noteProgress(tx, row, {}, ctx.now) // begun, and nobody else sees it yet
    paused = pauseRun(ctx, run, true, 'Wren')
    await untilBlocked()
  })
  await paused
  expect((await runViewModel(ctx.db, run))!.counts).toMatchObject({ paused: 1, running: 0 })
})

/** Until a statement waits for another's lock. */
async function untilBlocked(): Promise<void> {
  const waiting = sql`select count(*)::int n from pg_stat_activity where datname = current_database() and wait_event_type = 'Lock'`
  for (let looks = 0; looks < 500; looks++) {
    if (Number((await ctx.db.execute(waiting)).rows[0]!.n) > 0) return
    await new Promise((resolve) => setImmediate(resolve))
  }
  throw new Error('nothing waited')
}

test('a run of higher priority goes before an older one', async () => {
  const one = await addAgent(ctx, 'one', 2)
  const [old, urgent] = [await start(), await start({ priority: 2 })]
  expect((await claim(one)).runId).toBe(urgent)
  expect((await runViewModel(ctx.db, old))!.counts.claimed).toBe(0)
})
test('two rotations share the seats: the one with fewer at work is next', async () => {
  const one = await addAgent(ctx, 'one', 6)
  const [first, second, third] = [await start(), await start(), await start()]
  await ctx.db
    .update(runs)
    .set({ rotationKey: 'night' })
    .where(sql`${runs.id} in (${first}, ${second})`)
  await ctx.db.update(runs).set({ rotationKey: 'smoke' }).where(eq(runs.id, third))
  const order = [await claim(one), await claim(one), await claim(one), await claim(one)].map(
    ({ runId }) => runId,
  )
  expect(order).toEqual([first, third, first, third])
})
test('a name held alone is held over all runs', async () => {
  const one = await addAgent(ctx, 'one', 3)
  await start({ suite: undefined, cases: ['d'] })
  await start({ suite: undefined, cases: ['d'] })
  const held = await claim(one)
  expect(await claimWork(ctx, one)).toBeUndefined()
  await pass(held)
  expect((await claim(one)).case.key).toBe('d')
})
test('the seat that asks is the one it gets, when it is free', async () => {
  const one = await addAgent(ctx, 'one', 3)
  await start()
  await claimWork(ctx, one, 3)
  await claimWork(ctx, one, 3)
  expect(
    (await ctx.db.select({ seat: attempts.seat }).from(attempts)).map(({ seat }) => seat).sort(),
  ).toEqual([1, 3])
})
test('what was lost with the process that was to see to it is seen to', async () => {
  const one = await addAgent(ctx, 'one', 1)
  const run = await start({ suite: 'nested' })
  const first = await claim(one)
  await ctx.db.execute(
    sql`update attempts set state = 'ended', outcome = 'passed', ended_at = now() where id = ${first.attemptId}`,
  ) // as far as a process came that fell
  await ctx.db.execute(
    sql`update case_runs set state = 'ended', outcome = 'passed', ended_at = now() where shown_attempt = ${first.attemptId}`,
  )
  expect(await claimWork(ctx, one)).toBeUndefined()
  expect(await wakeStalled(ctx)).toEqual([run])
  await pass(await claim(one))
  expect((await runViewModel(ctx.db, run))!.state).toBe('ended')
  expect(await wakeStalled(ctx)).toEqual([])
})
test('stopped without undo steps: its agents are told so', async () => {
  const one = await addAgent(ctx, 'one', 1)
  const run = await start()
  const { attemptId, lease } = await claim(one)
  await cancelRun(ctx, run, 'Wren', { undo: false })
  expect((await heartbeat(ctx, one, { attempts: [{ attemptId, lease }] })).commands).toEqual([
    { attemptId, command: 'cancel', undo: false },
  ])
})
test('a clock that is off is noted, and nothing else changes', async () => {
  const one = await addAgent(ctx, 'one', 1)
  await heartbeat(ctx, one, { attempts: [], clock: new Date(Date.now() + 3_600_000).toISOString() })
  const [row] = await ctx.db.select().from(agents)
  expect(Math.abs(row!.clockOffMs - 3_600_000)).toBeLessThan(30_000)
  expect(Math.abs(row!.heartbeatAt.getTime() - Date.now())).toBeLessThan(30_000)
})

describe('a simulated agent', () => {
  const row = async (id: string) => (await ctx.db.select().from(agents).where(eq(agents.id, id)))[0]!
  test('misbehaves as told, and hears how much longer', async () => {
    const { id } = await addAgent(ctx, 'one', 1)
    await injectFault(ctx, id, { what: 'slow', factor: 4, environment: 'wide', minutes: 2 }, 'Wren')
    const { misbehaviours } = await heartbeat(ctx, await row(id), { attempts: [] })
    expect(misbehaviours).toEqual([
      { what: 'slow', factor: 4, environment: 'wide', forMs: expect.any(Number) as number },
    ])
    expect(misbehaviours![0]!.forMs).toBeLessThanOrEqual(120_000)
    await injectFault(ctx, id, {}, 'Wren')
    expect(await heartbeat(ctx, await row(id), { attempts: [] })).toEqual({ draining: false, commands: [] })
  })
  test('a real one is not told to, and nowhere it does not serve', async () => {
    const { id } = await addAgent(ctx, 'one', 1)
    await expect(injectFault(ctx, id, { what: 'slow', environment: 'moon' }, 'Wren')).rejects.toMatchObject({
      code: 'BODY_INVALID',
    })
    await ctx.db.update(agents).set({ simulated: false })
    await expect(injectFault(ctx, id, { what: 'lost' }, 'Wren')).rejects.toMatchObject({
      code: 'BODY_INVALID',
      message: expect.stringContaining('real browsers') as string,
    })
  })
})

describe('live screens', () => {
  test('an agent shows one only while somebody looks; the newest takes the place of the last; none is left of what has ended', async () => {
    const one = await addAgent(ctx, 'one', 1)
    await start()
    const work = await claim(one)
    const held = { attempts: [{ attemptId: work.attemptId, lease: work.lease }] }
    expect((await heartbeat(ctx, one, held)).commands).toEqual([])
    await watchScreens(ctx, [work.attemptId])
    expect((await heartbeat(ctx, one, held)).commands).toEqual([
      { attemptId: work.attemptId, command: 'watch' },
    ])
    for (const text of ['first', 'second']) await keepScreen(ctx, work, 'image/jpeg', Buffer.from(text))
    expect(await (await serveScreen(ctx, work.attemptId)).text()).toBe('second')
    await expect(keepScreen(ctx, work, 'text/html', Buffer.from('x'))).rejects.toMatchObject({
      code: 'BODY_INVALID',
    })
    await pass(work)
    await expect(keepScreen(ctx, work, 'image/jpeg', Buffer.from('late'))).rejects.toMatchObject({
      code: 'LEASE_LOST',
    })
    await dropScreens(ctx)
    expect(await ctx.db.$count(liveScreens)).toBe(0)
    await expect(serveScreen(ctx, work.attemptId)).rejects.toMatchObject({ code: 'NOT_FOUND' })
  })
})

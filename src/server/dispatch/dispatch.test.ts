import { eq, sql } from 'drizzle-orm'
import { at } from '@/db/moment'
import { AGENT_PROTOCOL, type NumberedEvent, type Work } from '@/core/execution'
import { exclusiveHolds, caseRuns, events, runs } from '@/db/schema'
import type { AgentRow } from '@/db/agents'
import { attemptRow, runViewModel } from '@/db/runs'
import { claimWork, drainAgent, expireLeases, finishAttempt, heartbeat, ingestEvents, registerAgent } from '.'
import { cancelRun, startAgain, startRun } from '../runs'
import {
  addAgent,
  seedFiles,
  simpleCase,
  simpleSuite,
  testContext,
  type TestContext,
  laterBy,
} from '../testing/context'

let ctx: TestContext
beforeAll(async () => {
  ctx = await testContext()
  await seedFiles(ctx, {
    'a.case.yaml': simpleCase('a'),
    'b.case.yaml': simpleCase('b', 'priority: high\n'),
    'c.case.yaml': simpleCase('c', 'uses: [desk]\n'),
    'd.case.yaml': simpleCase('d', 'uses: [desk]\n'),
    'two.suite.yaml': simpleSuite('two', ['a', 'b']),
    'one.suite.yaml': simpleSuite('one', ['a']),
    'held.suite.yaml': simpleSuite('held', ['c', 'd']),
  })
})
afterAll(() => ctx.end())
afterEach(async () => {
  await ctx.db.execute(sql`truncate runs, agents cascade`)
})

const start = (suite: string, extra: object = {}) =>
  startRun(
    ctx,
    { suite, environments: ['wide'], build: '1.0', retries: 0, limitMs: 60_000, ...extra },
    'Wren',
  )
const pass = { outcome: 'passed', ms: 5 } as const
const fail = { outcome: 'failed', ms: 5, failure: { kind: 'check', message: 'no', path: 'main.1' } } as const
const hold = ({ agentId, attemptId, lease }: Work) => ({ agentId, attemptId, lease })
const finish = (work: Work, result: Parameters<typeof finishAttempt>[2]) =>
  finishAttempt(ctx, hold(work), result)
const counts = async (id: number) => (await runViewModel(ctx.db, id))!.counts
const stepEvent = (no: number, object = 'Go'): NumberedEvent => ({
  no,
  atMs: no,
  type: 'step-started',
  path: `main.${no}`,
  words: { verb: 'click', object, detail: '' },
})
/** The clock an hour on: every lease has run out. */
const anHourLater = () => laterBy(ctx, 3_600_000)

async function claim(agent: AgentRow): Promise<Work> {
  const work = await claimWork(ctx, agent)
  if (!work) throw new Error('nothing to claim')
  return work
}

describe('claiming', () => {
  test('priority first, then the order of the suite; the work is complete', async () => {
    const agent = await addAgent(ctx, 'one', 2)
    await start('two')
    const [first, second] = [await claim(agent), await claim(agent)]
    expect([first.case.key, second.case.key]).toEqual(['b', 'a'])
    expect(first).toMatchObject({
      build: '1.0',
      number: 1,
      lease: 1,
      limitMs: 60_000,
      applications: { booking: 'http://127.0.0.1:9/b/1.0/booking' },
      environment: { key: 'wide' },
    })
  })
  test('no more than its seats, nothing it cannot serve, nothing while draining', async () => {
    const [busy, other] = [await addAgent(ctx, 'busy', 1), await addAgent(ctx, 'other', 3, ['narrow'])]
    await start('two')
    await claim(busy)
    expect(await claimWork(ctx, busy)).toBeUndefined()
    expect(await claimWork(ctx, other)).toBeUndefined()
    const drained = await addAgent(ctx, 'drained')
    await drainAgent(ctx, drained.id, true, 'Wren')
    expect(await claimWork(ctx, drained)).toBeUndefined()
  })
  test('many claims at once never get the same case run', async () => {
    const agents = await Promise.all(Array.from({ length: 8 }, (_, i) => addAgent(ctx, `many-${i}`, 2)))
    await start('two', { environments: ['wide', 'narrow'] })
    const works = (
      await Promise.all(agents.flatMap((agent) => [claimWork(ctx, agent), claimWork(ctx, agent)]))
    ).filter((work) => work !== undefined)
    expect(works).toHaveLength(4)
    expect(new Set(works.map((work) => work.attemptId)).size).toBe(4)
  })
  test('what holds a name alone waits for the other, also when both are claimed at once', async () => {
    const agents = await Promise.all(['x', 'y', 'z'].map((name) => addAgent(ctx, name)))
    await start('held')
    const works = (await Promise.all(agents.map((agent) => claimWork(ctx, agent)))).filter(
      (work) => work !== undefined,
    )
    expect(works).toHaveLength(1)
    await finish(works[0]!, pass)
    expect((await claim(agents[1]!)).case.key).not.toBe(works[0]!.case.key)
    expect(await ctx.db.select().from(exclusiveHolds)).toHaveLength(1)
  })
})

describe('ending', () => {
  test('a run ends when its last case run does, exactly once', async () => {
    const agent = await addAgent(ctx, 'one', 2)
    const id = await start('two')
    const [first, second] = [await claim(agent), await claim(agent)]
    await Promise.all([finish(first, pass), finish(second, fail)])
    expect(await runViewModel(ctx.db, id)).toMatchObject({ state: 'ended', failingCases: 1 })
    expect(await counts(id)).toMatchObject({ passed: 1, failed: 1, waiting: 0 })
  })
  test('finishing again is accepted and changes nothing; another answer or an old lease is refused', async () => {
    const agent = await addAgent(ctx, 'one')
    const id = await start('one')
    const work = await claim(agent)
    await finish(work, pass)
    await finish(work, pass)
    await expect(finish(work, fail)).rejects.toMatchObject({ code: 'LEASE_LOST' })
    await expect(finishAttempt(ctx, { ...hold(work), lease: 99 }, pass)).rejects.toMatchObject({
      code: 'LEASE_LOST',
    })
    expect((await counts(id)).passed).toBe(1)
  })
  test('a retry that passes is recovered', async () => {
    const agent = await addAgent(ctx, 'one')
    const id = await start('one', { retries: 1 })
    await finish(await claim(agent), fail)
    const again = await claim(agent)
    expect(again.number).toBe(2)
    await finish(again, pass)
    expect((await counts(id)).recovered).toBe(1)
  })
  test('what failed can be run again from the frozen snapshot, and only that', async () => {
    const agent = await addAgent(ctx, 'one', 2)
    const id = await start('two')
    await finish(await claim(agent), fail)
    await finish(await claim(agent), pass)
    const again = await startAgain(ctx, id, 'Wren')
    expect((await claim(agent)).case.key).toBe('b')
    expect(await runViewModel(ctx.db, again)).toMatchObject({ againOf: id })
    await expect(startAgain(ctx, again, 'Wren')).rejects.toMatchObject({ code: 'NOTHING_TO_RUN' })
  })
})

describe('events', () => {
  test('a batch sent twice is stored once, and where the attempt is can be seen', async () => {
    const agent = await addAgent(ctx, 'one')
    await start('one')
    const work = await claim(agent)
    const batch = [
      stepEvent(1, 'First'),
      stepEvent(2, 'Second'),
      {
        no: 3,
        atMs: 3,
        type: 'screen',
        path: 'main.2',
        phase: 'after',
        hash: 'f'.repeat(64),
        width: 1,
        height: 1,
      } as const,
    ]
    await ingestEvents(ctx, work, batch)
    await ingestEvents(ctx, work, [...batch.slice(1), stepEvent(4)])
    const rows = await ctx.db
      .select()
      .from(events)
      .where(eq(events.attemptId, work.attemptId))
      .orderBy(events.no)
    expect(rows.map(({ no }) => no)).toEqual([1, 2, 3, 4])
    expect(rows[0]!.body).not.toHaveProperty('no')
    const [row] = (
      await ctx.db.execute(sql`select at_step, screen, state from attempts where id = ${work.attemptId}`)
    ).rows
    expect(row).toEqual({ at_step: 'click Go', screen: 'f'.repeat(64), state: 'running' })
  })
})

describe('a lost agent', () => {
  test('its work is given to another; its late results are refused; no retry is used up', async () => {
    const [first, second] = [await addAgent(ctx, 'first'), await addAgent(ctx, 'second')]
    const id = await start('one')
    const lost = await claim(first)
    expect(await expireLeases(ctx)).toBe(0)
    expect(await expireLeases(anHourLater())).toBe(1)
    const work = await claim(second)
    expect(work.lease).toBe(2)
    await expect(ingestEvents(ctx, lost, [stepEvent(1)])).rejects.toMatchObject({ code: 'LEASE_LOST' })
    await expect(finish(lost, fail)).rejects.toMatchObject({ code: 'LEASE_LOST' })
    await expect(finish(lost, pass)).rejects.toMatchObject({ code: 'LEASE_LOST' })
    // kept for people to see; it counts for nothing
    expect((await attemptRow(ctx.db, lost.attemptId))!.lateResult).toBe('failed')
    await finish(work, pass)
    expect(await counts(id)).toMatchObject({ passed: 1, recovered: 0, errored: 0 })
  })
  test('a heartbeat keeps the lease, and says which attempts are not ours any more', async () => {
    const agent = await addAgent(ctx, 'one', 2)
    await start('two')
    const [kept, gone] = [await claim(agent), await claim(agent)]
    await finish(gone, pass)
    const answer = await heartbeat({ ...laterBy(ctx, 29 * 60_000), leaseMs: 3_600_000 }, agent, {
      attempts: [hold(kept), hold(gone)],
    })
    expect(answer.commands).toEqual([{ attemptId: gone.attemptId, command: 'drop' }])
    expect(await expireLeases(anHourLater())).toBe(0)
  })
  test('a case that loses two agents is not given out a third time, and says so', async () => {
    const agent = await addAgent(ctx, 'one')
    const id = await start('one')
    for (let i = 0; i < 2; i++) {
      await claim(agent)
      await expireLeases(anHourLater())
    }
    expect(await claimWork(ctx, agent)).toBeUndefined()
    expect(await counts(id)).toMatchObject({ errored: 1 })
    const [row] = await ctx.db
      .select({ message: caseRuns.failureMessage })
      .from(caseRuns)
      .where(eq(caseRuns.runId, id))
    expect(row!.message).toBe(
      'Its agent was lost with it twice, so it is not given out again. The agent was lost: its ' +
        'heartbeat stopped',
    )
  })
  test('an agent started anew gives up at once what its earlier process held', async () => {
    const agent = await addAgent(ctx, 'one')
    await start('one')
    await claim(agent)
    await registerAgent(
      ctx,
      { id: agent.tokenId! },
      {
        name: 'one',
        instance: 'second',
        pool: 'test',
        version: '1',
        protocol: AGENT_PROTOCOL,
        seats: 1,
        environments: ['wide'],
        simulated: true,
      },
    )
    expect((await claim(agent)).number).toBe(2)
  })
})

describe('starting and cancelling', () => {
  test.each([
    {
      why: 'an environment nobody serves',
      request: { environments: ['narrow'] },
      code: 'ENVIRONMENT_UNSERVED',
    },
    { why: 'an environment that is not there', request: { environments: ['zz'] }, code: 'NOT_FOUND' },
    { why: 'a suite that is not there', request: { suite: 'zz' }, code: 'NOT_FOUND' },
  ])('$why is said before it starts, and nothing is written', async ({ request, code }) => {
    await addAgent(ctx, 'one', 1, ['wide'])
    await expect(start('one', request)).rejects.toMatchObject({ code })
    expect(await ctx.db.$count(runs)).toBe(0)
  })
  test('cancelling ends what waits now, and what runs when its agent hears of it', async () => {
    const agent = await addAgent(ctx, 'one')
    const id = await start('two')
    const work = await claim(agent)
    await cancelRun(ctx, id, 'Wren')
    expect(await counts(id)).toMatchObject({ cancelled: 1, claimed: 1 })
    expect((await heartbeat(ctx, agent, { attempts: [hold(work)] })).commands).toEqual([
      { attemptId: work.attemptId, command: 'cancel', undo: true },
    ])
    await finish(work, { outcome: 'cancelled', ms: 1 })
    expect(await runViewModel(ctx.db, id)).toMatchObject({ state: 'ended', counts: { cancelled: 2 } })
    await expect(cancelRun(ctx, id, 'Wren')).rejects.toMatchObject({ code: 'RUN_ENDED' })
    expect(await claimWork(ctx, agent)).toBeUndefined()
  })
  test('a later edit of a case does not change a run', async () => {
    const agent = await addAgent(ctx, 'one')
    await start('one')
    await seedFiles(ctx, { 'a.case.yaml': simpleCase('a').replace('title: A', 'title: Changed') })
    expect((await claim(agent)).case.title).toBe('A')
    await seedFiles(ctx, { 'a.case.yaml': simpleCase('a') })
  })
  test('times come from the clock that is given', async () => {
    const agent = await addAgent(ctx, 'one')
    const then = { ...ctx, now: at(new Date('2026-01-02T03:04:05Z')) }
    const id = await startRun(
      { ...ctx },
      { suite: 'one', environments: ['wide'], build: '1.0', retries: 0, limitMs: 60_000 },
      'Wren',
    )
    const work = (await claimWork(then, agent))!
    await finishAttempt(then, hold(work), pass)
    const [row] = await ctx.db.select().from(caseRuns).where(eq(caseRuns.runId, id))
    expect(row!.endedAt!.toISOString()).toBe('2026-01-02T03:04:05.000Z')
  })
})

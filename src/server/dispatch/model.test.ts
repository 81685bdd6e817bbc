/** Random things in a random order, on the real database: whatever happens, a run ends, and every case run
 * exactly once. */
import { asc, eq, sql } from 'drizzle-orm'
import { randomFrom, type AttemptResult, type Work } from '@/core/execution'
import type { AgentRow } from '@/db/agents'
import { attempts, caseRuns, exclusiveHolds } from '@/db/schema'
import { runViewModel } from '@/db/runs'
import type { Context } from '../context'
import { Problem } from '../http/problems'
import { cancelRun, pauseRun, startRun } from '../runs'
import {
  addAgent,
  seedFiles,
  simpleCase,
  simpleSuite,
  testContext,
  type TestContext,
  laterBy,
} from '../testing/context'
import { claimWork, expireLeases, finishAttempt, heartbeat, ingestEvents, pauseAgents } from '.'

const [ROUNDS, ACTIONS, RETRIES, LOSSES] = [12, 60, 1, 3]
let ctx: TestContext
beforeAll(async () => {
  ctx = await testContext()
  await seedFiles(ctx, {
    'a.case.yaml': simpleCase('a'),
    'b.case.yaml': simpleCase('b', 'uses: [desk]\n'),
    'c.case.yaml': simpleCase('c', 'uses: [desk]\n'),
    'd.case.yaml': simpleCase('d', 'priority: high\n'),
    's.suite.yaml': simpleSuite('s', ['a', 'b', 'c', 'd']),
  })
})
afterAll(() => ctx.end())

/** What was finished and accepted must never change; `held`: what agents believe they hold. */
type World = {
  run: number
  agents: AgentRow[]
  held: { agent: AgentRow; work: Work; no: number }[]
  ended: Map<string, string>
  late: number
  at: Context
}

const results: AttemptResult[] = [
  { outcome: 'passed', ms: 1 },
  { outcome: 'failed', ms: 1, failure: { kind: 'check', message: 'no' } },
  { outcome: 'errored', ms: 1, failure: { kind: 'page', message: 'gone' } },
]

async function act(world: World, random: () => number): Promise<void> {
  const { run, agents, held } = world
  const any = <T>(list: readonly T[]): T | undefined => list[Math.floor(random() * list.length)]
  const agent = any(agents)!
  const mine = any(held)
  const drop = () => held.splice(held.indexOf(mine!), 1)
  /** What a lost lease answers is an answer, not a fault. */
  const allowed =
    (...codes: string[]) =>
    (error: unknown) => {
      if (!(error instanceof Problem) || !codes.includes(error.code)) throw error
      if (error.code === 'LEASE_LOST') world.late++
    }
  switch (Math.floor(random() * 10)) {
    case 0:
    case 1:
    case 2: {
      const work = await claimWork(world.at, agent)
      if (work) held.push({ agent, work, no: 0 })
      return
    }
    case 3:
    case 4:
      return (
        mine &&
        void (await ingestEvents(world.at, mine.work, [
          { no: ++mine.no, atMs: mine.no, type: 'note', text: 'n' },
        ]).catch(allowed('LEASE_LOST')))
      )
    case 5:
    case 6:
      if (mine) {
        drop()
        await finishAttempt(world.at, mine.work, any(results)!).catch(allowed('LEASE_LOST'))
      }
      return
    case 7: // some leases run out unseen by those who hold them
      world.at = laterBy(world.at, Math.floor(random() * 2) * 3_600_000)
      await expireLeases(world.at)
      return
    case 8:
      return void (await heartbeat(world.at, agent, {
        attempts: held.filter((one) => one.agent === agent).map(({ work }) => work),
      }))
    default:
      if (random() < 0.15) await cancelRun(world.at, run, 'Wren').catch(allowed('RUN_ENDED'))
      else if (random() < 0.5)
        await pauseRun(world.at, run, random() < 0.5, 'Wren').catch(allowed('RUN_ENDED'))
      else await pauseAgents(world.at, { id: agent.id }, random() < 0.3, 'Wren')
  }
}

async function invariants({ run, ended }: World): Promise<void> {
  const rows = await ctx.db
    .select()
    .from(caseRuns)
    .where(eq(caseRuns.runId, run))
    .orderBy(asc(caseRuns.position))
  const tries = await ctx.db
    .select()
    .from(attempts)
    .where(eq(attempts.runId, run))
    .orderBy(asc(attempts.number))
  for (const row of rows) {
    const own = tries.filter(({ caseRunId }) => caseRunId === row.id)
    expect(own.map(({ number }) => number)).toEqual(own.map((_, i) => i + 1))
    expect(own.filter(({ state }) => state !== 'ended').length).toBeLessThanOrEqual(1) // never two at once
    expect(own.length).toBeLessThanOrEqual(1 + RETRIES + LOSSES - 1)
    expect(own.filter(({ outcome }) => outcome === 'passed').length).toBeLessThanOrEqual(1)
    expect((row.outcome !== null) === (row.state === 'ended')).toBe(true)
    if (ended.has(row.id)) expect(row.outcome).toBe(ended.get(row.id)) // it ends once
    if (row.outcome !== null) ended.set(row.id, row.outcome)
  }
  const holds = await ctx.db.select().from(exclusiveHolds)
  for (const { caseRunId } of holds)
    expect(rows.find(({ id }) => id === caseRunId)?.state).not.toMatch(/waiting|ended/)
  const state = (await runViewModel(ctx.db, run))!.state
  expect(state === 'ended').toBe(rows.every((row) => row.state === 'ended'))
}

test('invariants hold at every moment, and it always ends', async () => {
  let late = 0
  for (let seed = 0; seed < ROUNDS; seed++) {
    await ctx.db.execute(sql`truncate runs, agents cascade`)
    const random = randomFrom(seed)
    const agents = [await addAgent(ctx, 'one', 2), await addAgent(ctx, 'two', 1)]
    const run = await startRun(
      ctx,
      { suite: 's', environments: ['wide', 'narrow'], build: '1.0', retries: RETRIES, limitMs: 60_000 },
      'Wren',
    )
    const world: World = { run, agents, held: [], ended: new Map(), late: 0, at: ctx }
    for (let i = 0; i < ACTIONS; i++) {
      await act(world, random)
      await invariants(world)
    }
    // Then nothing is in the way any more, and everybody does their work.
    await pauseRun(ctx, run, false, 'Wren').catch(() => {})
    for (const { id } of agents) await pauseAgents(ctx, { id }, false, 'Wren')
    await expireLeases(laterBy(ctx, 3 * 3_600_000))
    for (let i = 0; i < 60; i++)
      for (const agent of agents) {
        const work = await claimWork(ctx, agent)
        if (work) await finishAttempt(ctx, work, results[Math.floor(random() * 3)]!)
      }
    await invariants(world)
    expect((await runViewModel(ctx.db, run))!.state).toBe('ended')
    expect(await ctx.db.select().from(exclusiveHolds)).toEqual([])
    late += world.late
  }
  expect(late).toBeGreaterThan(0) // answers that came too late were among it, and refused
}, 120_000)

/** Joint cases on the real database: seats for all roles at once, meeting points, one role's end is the
 * others' end. */
import { asc, eq, sql } from 'drizzle-orm'
import { randomFrom, type AttemptResult, type Work } from '@/core/execution'
import { changeAgent, type AgentRow } from '@/db/agents'
import { attempts, caseRuns, runs } from '@/db/schema'
import { takeNextCaseRun } from '@/db/claim'
import { claimFast } from '@/db/fast-path'
import { lanesOf, runViewModel } from '@/db/runs'
import { draftFrom } from '../defects'
import { startRun } from '../runs'
import { askLog } from '../reading'
import { attemptViewModel, fleetViewModel } from '../view-models'
import {
  addAgent,
  seedFiles,
  simpleCase,
  simpleSuite,
  testContext,
  type TestContext,
} from '../testing/context'
import { claimWork, expireLeases, finishAttempt, heartbeat, meet } from '.'

const JOINT =
  'case: joint\ntitle: Boarding together\nroles:\n  passenger:\n    steps: [{ open: "booking:/" }, ' +
  '{ meet: boarding-open }]\n  crew:\n    environment: { key: narrow }\n    steps: [{ meet: ' +
  'boarding-open }]\n'
const passed: AttemptResult = { outcome: 'passed', ms: 5 }
const failed: AttemptResult = {
  outcome: 'failed',
  ms: 5,
  failure: { kind: 'check', message: 'it is 3', path: 'main.0' },
}
const hold = ({ agentId, attemptId, lease }: Work) => ({ agentId, attemptId, lease })
const never = new AbortController().signal

let ctx: TestContext
beforeAll(async () => {
  ctx = await testContext()
  await seedFiles(ctx, {
    'joint.case.yaml': JOINT,
    'a.case.yaml': simpleCase('a'),
    'b.case.yaml': simpleCase('b'),
    'one.suite.yaml': simpleSuite('one', ['joint']),
    'mixed.suite.yaml': simpleSuite('mixed', ['joint', 'a', 'b']),
  })
})
afterAll(() => ctx.end())
beforeEach(async () => void (await ctx.db.execute(sql`truncate runs, agents cascade`)))

const start = (suite = 'one', more: object = {}) =>
  startRun(ctx, { suite, environments: ['wide'], build: '1.0', retries: 0, limitMs: 60_000, ...more }, 'Wren')
const claim = async (agent: AgentRow): Promise<Work> => (await claimWork(ctx, agent))!
const outcome = async (run: number) =>
  (await ctx.db.select().from(caseRuns).where(eq(caseRuns.runId, run)))[0]!
/** Both roles, each with an agent of its own. */
async function both(
  more: object = {},
): Promise<{ run: number; desk: AgentRow; gate: AgentRow; passenger: Work; crew: Work }> {
  const [desk, gate] = [await addAgent(ctx, 'desk', 1, ['wide']), await addAgent(ctx, 'gate', 1, ['narrow'])]
  const run = await start('one', more)
  const [passenger, crew] = [await claim(desk), await claim(gate)]
  return { run, desk, gate, passenger, crew }
}

test('one claim seats all roles, each on the environment it wants; the other agent hears of it with its next claim', async () => {
  const { run, passenger, crew } = await both()
  expect(
    [passenger, crew].map(({ role, environment, number, case: { key } }) => [
      role,
      environment.key,
      number,
      key,
    ]),
  ).toEqual([
    ['passenger', 'wide', 1, 'joint'],
    ['crew', 'narrow', 1, 'joint'],
  ])
  expect((await runViewModel(ctx.db, run))!.counts).toMatchObject({ claimed: 1 }) // one case run
})
test('where a role plays is told as its own environment: in the lanes, on the seats, in how busy the fleet was', async () => {
  const { run, gate } = await both()
  await changeAgent(ctx.db, gate.id, { pool: 'Shore' })
  expect((await lanesOf(ctx.db, run)).map(({ agent, environment }) => [agent, environment])).toEqual([
    ['desk', 'wide'],
    ['gate', 'narrow'],
  ])
  const fleet = await fleetViewModel(ctx, '')
  expect(fleet.agents.map(({ name, work }) => [name, work[0]!.environment]).sort()).toEqual([
    ['desk', 'wide'],
    ['gate', 'narrow'],
  ])
  expect(fleet.cover.map(({ environment, pool, seats }) => [environment, pool, seats])).toEqual([
    ['wide', 'test', 1],
    ['narrow', 'Shore', 1],
  ]) // Shore has done nothing on “wide”
})
test('while a role has no seat, none begins; the seat it needs is kept free, and others work', async () => {
  const desk = await addAgent(ctx, 'desk', 1, ['wide'])
  await addAgent(ctx, 'gate', 1, ['narrow'])
  const busy = await startRun(
    ctx,
    { cases: ['b'], environments: ['narrow'], build: '1.0', retries: 0, limitMs: 60_000 },
    'Wren',
  )
  const [gate] = [
    (await ctx.db.query.agents.findFirst({
      where: (table, { eq: is }) => is(table.name, 'gate'),
    })) as AgentRow,
  ]
  const other = await claim(gate)
  await start('mixed')
  expect(await claimWork(ctx, desk)).toBeUndefined() // needed, and kept free
  const helper = await addAgent(ctx, 'helper', 1, ['wide'])
  expect((await claim(helper)).case.key).toBe('a') // one seat for the passenger is enough
  await finishAttempt(ctx, hold(other), passed)
  expect((await runViewModel(ctx.db, busy))!.state).toBe('ended')
  expect((await claim(gate)).role).toBe('crew')
  expect((await claim(desk)).role).toBe('passenger')
})
test('it passes when all roles did, and takes as long as the longest', async () => {
  const { run, passenger, crew } = await both()
  await finishAttempt(ctx, hold(passenger), passed)
  expect((await runViewModel(ctx.db, run))!.state).toBe('running')
  await finishAttempt(ctx, hold(crew), passed)
  expect(await outcome(run)).toMatchObject({ outcome: 'passed', state: 'ended' })
  expect((await runViewModel(ctx.db, run))!.state).toBe('ended')
})
test('one role fails: the other is told why, and the case run ends as that one did, shown from its side', async () => {
  const { run, desk, passenger, crew } = await both()
  await finishAttempt(ctx, hold(crew), failed)
  expect((await heartbeat(ctx, desk, { attempts: [hold(passenger)] })).commands).toEqual([
    { attemptId: passenger.attemptId, command: 'end', because: 'crew: it is 3' },
  ])
  await finishAttempt(ctx, hold(passenger), {
    outcome: 'cancelled',
    ms: 9,
    failure: { kind: 'agent', message: 'Ended, for another role did not pass: crew: it is 3' },
  })
  expect(await outcome(run)).toMatchObject({
    outcome: 'failed',
    failureKind: 'check',
    failureMessage: 'crew: it is 3',
    shownAttempt: crew.attemptId,
  })
  const viewModel = await attemptViewModel(ctx, crew.attemptId)
  expect(viewModel.attempts.map(({ role, number }) => [role, number])).toEqual([
    ['crew', 1],
    ['passenger', 1],
  ])
  expect(viewModel.environment).toMatchObject({ key: 'narrow' })
})
test('a defect of one role names the environment that role played on, and its own steps', async () => {
  const { passenger, crew } = await both()
  await finishAttempt(ctx, hold(crew), failed)
  expect(await draftFrom(ctx, crew.attemptId)).toMatchObject({ environment: 'NARROW' })
  const lines = async (id: string) => (await askLog(ctx, id, { ask: 'all' })).map(({ words }) => words.verb)
  expect([await lines(crew.attemptId), await lines(passenger.attemptId)]).toEqual([
    ['meet'],
    ['open', 'meet'],
  ])
  expect(await draftFrom(ctx, passenger.attemptId)).toMatchObject({ environment: 'WIDE' })
})
test('all roles are tried again together', async () => {
  const { run, desk, gate, passenger, crew } = await both({ retries: 1 })
  await finishAttempt(ctx, hold(passenger), failed)
  expect(await claimWork(ctx, desk)).toBeUndefined() // the other is not over yet
  await finishAttempt(ctx, hold(crew), { outcome: 'cancelled', ms: 9 })
  const [second, third] = [await claim(gate), await claim(desk)]
  expect([second, third].map(({ role, number }) => [role, number])).toEqual([
    ['crew', 2],
    ['passenger', 2],
  ])
  for (const work of [second, third]) await finishAttempt(ctx, hold(work), passed)
  expect(await outcome(run)).toMatchObject({ outcome: 'recovered' })
})
test('a lost agent ends the others, and uses up no try', async () => {
  const { run, gate, desk, crew, passenger } = await both()
  await ctx.db
    .update(attempts)
    .set({ leasedUntil: sql`now() - interval '1 second'` })
    .where(eq(attempts.id, passenger.attemptId))
  expect(await expireLeases(ctx)).toBe(1)
  await expect(
    meet(ctx, hold(crew), { arrives: { point: 'boarding-open', visit: 1 }, waitMs: 100 }, never),
  ).resolves.toMatchObject({ over: expect.stringContaining('passenger: The agent was lost') as string })
  await finishAttempt(ctx, hold(crew), { outcome: 'cancelled', ms: 1 })
  expect(await outcome(run)).toMatchObject({ state: 'waiting', outcome: null })
  expect([(await claim(gate)).number, (await claim(desk)).number]).toEqual([2, 2])
})
test('at a meeting point the one waits for the other, who is named; a second time is another time', async () => {
  const { passenger, crew } = await both()
  const at = (work: Work, visit = 1, waitMs = 0) =>
    meet(ctx, hold(work), { arrives: { point: 'boarding-open', visit }, waitMs }, never)
  expect(await at(passenger)).toEqual({ missing: ['crew'], values: {} })
  const [waiting, coming] = await Promise.all([at(passenger, 1, 5000), at(crew)])
  expect([waiting.missing, coming.missing]).toEqual([[], []])
  expect((await at(crew, 2)).missing).toEqual(['passenger'])
})
test('who waits for whom is seen', async () => {
  const { passenger } = await both()
  await meet(ctx, hold(passenger), { arrives: { point: 'boarding-open', visit: 1 }, waitMs: 1 }, never)
  expect((await ctx.db.select().from(attempts).where(eq(attempts.id, passenger.attemptId)))[0]!.atStep).toBe(
    'waits for crew at “boarding open”',
  )
})
test('values go from one to the other as they are given', async () => {
  const { passenger, crew } = await both()
  const [got] = await Promise.all([
    meet(ctx, hold(crew), { needs: ['reference'], waitMs: 100 }, never),
    meet(ctx, hold(passenger), { gives: { reference: 'FS-40121' } }, never),
  ])
  expect(got).toEqual({ missing: [], values: { reference: 'FS-40121' } })
})
test('who does not hold the attempt meets nobody', async () => {
  const { passenger } = await both()
  await expect(meet(ctx, { ...hold(passenger), lease: 7 }, { waitMs: 0 }, never)).rejects.toMatchObject({
    code: 'LEASE_LOST',
  })
})
test('an agent that has not heard of its role when another fails never begins it', async () => {
  const desk = await addAgent(ctx, 'desk', 1, ['wide'])
  const gate = await addAgent(ctx, 'gate', 1, ['narrow'])
  const run = await start()
  await finishAttempt(ctx, hold(await claim(desk)), failed)
  expect(await claimWork(ctx, gate)).toBeUndefined()
  expect(await outcome(run)).toMatchObject({ outcome: 'failed' })
})
test('an environment that nobody has leaves it without a place, in words', async () => {
  await addAgent(ctx, 'desk', 2)
  await seedFiles(ctx, {
    'far.case.yaml': JOINT.replace('case: joint', 'case: far').replace('{ key: narrow }', '{ os: Sundial }'),
  })
  const run = await startRun(
    ctx,
    { cases: ['far', 'a'], environments: ['wide'], build: '1.0', retries: 0, limitMs: 60_000 },
    'Wren',
  )
  expect(await outcome(run)).toMatchObject({
    outcome: 'skipped',
    failureMessage: expect.stringContaining('needs 2 seats at once') as string,
  })
})

test('a joint case that waits for another one is not begun before it, also step by step', async () => {
  const desk = await addAgent(ctx, 'desk', 1, ['wide'])
  await addAgent(ctx, 'gate', 1, ['narrow'])
  const run = await start()
  await ctx.db.update(caseRuns).set({ ready: false }).where(eq(caseRuns.runId, run))
  const take = () =>
    ctx.db.transaction((tx) =>
      takeNextCaseRun(tx, desk, ctx.now, { attemptId: '00000000-0000-4000-8000-000000000001', joint: true }),
    )
  expect(await take()).toBeUndefined()
  expect(await claimWork(ctx, desk)).toBeUndefined()
  await ctx.db.update(caseRuns).set({ ready: true }).where(eq(caseRuns.runId, run))
  expect(await take()).toMatchObject({ caseKey: 'joint' })
})

test('property: the quick claim takes what the claim step by step would', async () => {
  const random = randomFrom(11)
  const pick = <T>(list: readonly T[]): T => list[Math.floor(random() * list.length)]!
  for (let round = 0; round < 25; round++) {
    await ctx.db.execute(sql`truncate runs, agents, exclusive_holds cascade`)
    const agents = [
      await addAgent(ctx, 'one', 2, ['wide', 'narrow']),
      await addAgent(ctx, 'two', 2, ['narrow']),
    ]
    for (let r = 0; r < 2; r++)
      await startRun(
        ctx,
        {
          cases: ['a', 'b'],
          environments: ['wide', 'narrow'],
          build: '1.0',
          retries: 0,
          limitMs: 60_000,
          priority: pick([0, 0, 1]),
        },
        'Wren',
      )
    for (const { id } of await ctx.db.select({ id: caseRuns.id }).from(caseRuns)) {
      await ctx.db
        .update(caseRuns)
        .set({
          laneAgent: pick(['one', 'two', '']),
          laneMs: pick([0, 0, 500, 900]),
          priority: pick([0, 1]),
          ready: random() < 0.8,
          agent: pick(['', '', 'two']),
          wishAgent: pick(['', '', 'one', 'gone']),
          avoidAgent: pick(['', '', 'one']),
          exclusive: pick([[], [], ['desk']]),
        })
        .where(eq(caseRuns.id, id))
    }
    for (const { id } of await ctx.db.select({ id: runs.id }).from(runs))
      if (random() < 0.1) await ctx.db.update(runs).set({ paused: true }).where(eq(runs.id, id))
    for (let i = 0; i < 8; i++) {
      const agent = pick(agents)
      const [attemptId] = ['00000000-0000-4000-8000-00000000000' + String(i)]
      let slow: string | undefined
      await ctx.db
        .transaction(async (tx) => {
          const used = await tx.$count(
            attempts,
            sql`${attempts.agentId} = ${agent.id} and ${attempts.state} <> 'ended'`,
          )
          slow =
            used >= agent.seats
              ? undefined
              : (await takeNextCaseRun(tx, agent, ctx.now, { attemptId: attemptId!, joint: true }))?.id
          tx.rollback()
        })
        .catch(() => {})
      const quick = await claimFast(ctx.connection.fastPath, {
        agentId: agent.id,
        seat: undefined,
        attemptId: attemptId!,
        leaseMs: 30_000,
        now: ctx.now,
      })
      expect(typeof quick === 'string' ? undefined : quick.caseRun.id).toBe(slow)
    }
    const open = await ctx.db.select().from(attempts).orderBy(asc(attempts.seat))
    expect(new Set(open.map(({ agentName, seat }) => `${agentName} ${seat}`)).size).toBe(open.length)
  }
}, 60_000)

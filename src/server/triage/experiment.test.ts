import { sql } from 'drizzle-orm'
import { claimWork, finishAttempt } from '../dispatch'
import { startRun } from '../runs'
import { addAgent, seedFiles, testContext, type TestContext } from '../testing/context'
import { experimentsViewModel, keepCauses, startExperiment, triageViewModel } from '.'
import { CHECK_FAILED, FAILING_FILES } from './testing/failing'

let ctx: TestContext
beforeAll(async () => {
  ctx = await testContext()
  await seedFiles(ctx, FAILING_FILES)
})
afterAll(() => ctx.end())
beforeEach(async () => void (await ctx.db.execute(sql`truncate runs, agents, experiments cascade`)))

type Fails = (work: { build: string; environment: string }) => boolean

/** Carries out all that waits. */
async function carryOut(agent: Awaited<ReturnType<typeof addAgent>>, fails: Fails): Promise<void> {
  for (let work = await claimWork(ctx, agent); work; work = await claimWork(ctx, agent)) {
    const { attemptId, lease, environment, build } = work
    const isBad = fails({ build, environment: environment.key })
    await finishAttempt(
      ctx,
      { agentId: agent.id, attemptId, lease },
      isBad ? { outcome: 'failed', ms: 5, failure: CHECK_FAILED } : { outcome: 'passed', ms: 5 },
    )
  }
}

/** A case that was good with 1.0 everywhere, and fails with 2.0 on wide alone. */
async function failed() {
  const agent = await addAgent(ctx, 'tolva-01', 1)
  const start = (build: string) =>
    startRun(
      ctx,
      { cases: ['a'], environments: ['wide', 'narrow'], build, retries: 0, limitMs: 60_000 },
      'Wren',
    )
  await start('1.0')
  await carryOut(agent, () => false)
  await start('2.0')
  await carryOut(agent, ({ environment }) => environment === 'wide')
  await keepCauses(ctx)
  const [cause] = (await triageViewModel(ctx, 2)).groups
  return { agent, cause: cause!, attempt: cause!.members[0]!.attemptId!, signature: cause!.signature }
}

test('it is planned where it failed, with the build that was good, and where it was good', async () => {
  const { attempt, signature } = await failed()
  const { plan, past } = await experimentsViewModel(ctx, attempt, signature)
  expect(plan!.arms.map(({ arm, environment, build }) => [arm, environment, build])).toEqual([
    ['again', 'WIDE', '2.0'],
    ['before', 'WIDE', '1.0'],
    ['elsewhere', 'NARROW', '2.0'],
  ])
  expect(plan!.caseRuns).toBeGreaterThan(0)
  expect(past).toEqual([])
  await expect(experimentsViewModel(ctx, attempt, 'another')).rejects.toMatchObject({ code: 'NOT_FOUND' })
})

test('its runs are started together, and what they tell is thought of the cause from then on', async () => {
  const { agent, attempt, signature } = await failed()
  const times = { again: 3, before: 3, elsewhere: 2 }
  const runs = await startExperiment(ctx, attempt, { signature, times }, 'Priya')
  expect(runs).toHaveLength(3)
  const [going] = (await experimentsViewModel(ctx, attempt, signature)).past
  expect(going).toMatchObject({ by: 'Priya', told: null })
  expect(going!.arms.map(({ open }) => open)).toEqual([3, 3, 2])
  await carryOut(agent, ({ build, environment }) => build === '2.0' || environment === 'narrow')
  const [over] = (await experimentsViewModel(ctx, attempt, signature)).past
  expect(over!.arms.map(({ passed, failed: bad }) => [passed, bad])).toEqual([
    [0, 3],
    [3, 0],
    [0, 2],
  ])
  const change = over!.told!.find(({ cause }) => cause === 'environment-fault')!
  expect(change.after).toBeLessThan(change.before)
  const told = (await triageViewModel(ctx, 2)).groups.find((one) => one.signature === signature)!
  expect(told.likely[0]).toEqual({ cause: over!.told![0]!.cause, likelihood: over!.told![0]!.after })
  expect(told.because[0]).toContain('8 runs')

  // what it failed with again is of the experiment, and no failure more to be decided
  expect(await keepCauses(ctx)).toBe(0)
  expect(told.runs).toHaveLength(1)
  expect(told.failures).toBe(1)

  // a second one goes on from there
  await startExperiment(ctx, attempt, { signature, times: { again: 1 } }, 'Priya')
  await carryOut(agent, () => true)
  const [second] = (await experimentsViewModel(ctx, attempt, signature)).past
  const likeliest = second!.told![0]!
  expect(likeliest.before).toBeCloseTo(over!.told!.find(({ cause }) => cause === likeliest.cause)!.after, 9)
  const now = (await triageViewModel(ctx, 2)).groups.find((one) => one.signature === signature)!
  expect(now.likely[0]!.likelihood).toBeCloseTo(likeliest.after, 9)
  expect(now.because[0]).toContain('9 runs')
})

test('a run that ends as errored shows the failure as one that ends as failed does', async () => {
  const { agent, attempt, signature } = await failed()
  await startExperiment(ctx, attempt, { signature, times: { again: 2 } }, 'Priya')
  for (let work = await claimWork(ctx, agent); work; work = await claimWork(ctx, agent))
    await finishAttempt(
      ctx,
      { agentId: agent.id, attemptId: work.attemptId, lease: work.lease },
      { outcome: 'errored', ms: 5, failure: { kind: 'target', message: 'it is covered' } },
    )
  const [over] = (await experimentsViewModel(ctx, attempt, signature)).past
  expect(over!.arms).toMatchObject([{ passed: 0, failed: 2, other: 0, open: 0 }])
  expect(over!.told).not.toBeNull()
})

test('what cannot be tried is refused, and starts nothing', async () => {
  const { attempt, signature } = await failed()
  const runs = async () => (await ctx.db.execute(sql`select count(*)::int as n from runs`)).rows[0]!.n
  const before = await runs()
  await expect(
    startExperiment(ctx, attempt, { signature, times: { again: 0 } }, 'Priya'),
  ).rejects.toMatchObject({
    code: 'BODY_INVALID',
  })
  await ctx.db.execute(sql`delete from runs where build = '1.0'`)
  await expect(
    startExperiment(ctx, attempt, { signature, times: { again: 1, before: 1 } }, 'Priya'),
  ).rejects.toMatchObject({ code: 'BODY_INVALID', message: expect.stringContaining('before') as string })
  expect(await runs()).toBe((before as number) - 1)
})

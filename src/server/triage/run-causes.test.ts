import { sql } from 'drizzle-orm'
import type { Failure } from '@/core/execution'
import { flakyBefore } from '@/db/causes'
import { claimWork, finishAttempt } from '../dispatch'
import { startRun } from '../runs'
import { addAgent, seedFiles, simpleSuite, testContext, type TestContext } from '../testing/context'
import { runCausesViewModel } from '.'
import { lookAtRun } from './run-causes'
import { CHECK_FAILED, FAILING_FILES } from './testing/failing'

let ctx: TestContext
beforeAll(async () => {
  ctx = await testContext()
  await seedFiles(ctx, {
    ...FAILING_FILES,
    'deck.case.yaml':
      'case: deck\ntitle: Deck\nsteps:\n  - do: Walk to the lower deck\n    expect: The lashings hold\n',
    'deck.suite.yaml': simpleSuite('deck', ['deck']),
  })
})
afterAll(() => ctx.end())
beforeEach(async () => void (await ctx.db.execute(sql`truncate runs, agents cascade`)))

/** Runs all on both environments. @param failing what of it fails, by case and environment */
async function run(
  failing: (caseKey: string, environment: string) => Failure | undefined,
  suite = 'all',
): Promise<number> {
  const agents = [
    await addAgent(ctx, 'wide-01', 1, ['wide']),
    await addAgent(ctx, 'narrow-01', 1, ['narrow']),
  ]
  const id = await startRun(
    ctx,
    { suite, environments: ['wide', 'narrow'], build: '1.0', retries: 0, limitMs: 60_000 },
    'Wren',
  )
  for (const agent of agents)
    for (let work = await claimWork(ctx, agent); work; work = await claimWork(ctx, agent)) {
      const failure = failing(work.case.key, work.environment.key)
      await finishAttempt(
        ctx,
        { agentId: agent.id, attemptId: work.attemptId, lease: work.lease },
        failure
          ? { outcome: failure.kind === 'check' ? 'failed' : 'errored', ms: 5, failure }
          : { outcome: 'passed', ms: 5 },
      )
    }
  return id
}

test('checks of different things are different causes, though they say the same', async () => {
  const { causes, of, looked } = await runCausesViewModel(ctx, await run(() => CHECK_FAILED))
  expect([of, looked]).toEqual([6, 6])
  expect(causes.map(({ members, cases }) => [members.length, cases])).toEqual([
    [4, 2],
    [2, 1],
  ])
  expect(causes[1]!.members.map(({ title, environment }) => `${title} ${environment}`).toSorted()).toEqual([
    expect.stringMatching(/^A /),
    expect.stringMatching(/^A /),
  ])
})

test('where it happens is said with figures, of all that ran', async () => {
  const id = await run((_, environment) =>
    environment === 'narrow'
      ? { kind: 'target', path: 'main.1', message: 'Go is not on the page' }
      : undefined,
  )
  const [cause, ...others] = (await runCausesViewModel(ctx, id)).causes
  expect(others).toEqual([])
  expect(cause).toMatchObject({ cases: 3, environments: { failed: 1, of: 2 } })
  expect(cause!.members).toHaveLength(3)
})

test('a run without failures has no causes; one that is not there is told', async () => {
  expect(await runCausesViewModel(ctx, await run(() => undefined))).toEqual({
    causes: [],
    of: 0,
    looked: 0,
    learntFrom: 0,
  })
  await expect(runCausesViewModel(ctx, 99_999)).rejects.toMatchObject({ code: 'NOT_FOUND' })
})

test('what people judged is told by the step, not by who judged it or what they noted', async () => {
  const said = ['Priya saw that it is not so', 'Joss saw that it is not so: one is loose']
  const message = () => said.shift() ?? ''
  const id = await run(() => ({ kind: 'check', path: 'main.0', message: message() }), 'deck')
  const { causes } = await runCausesViewModel(ctx, id)
  expect(causes.map(({ members }) => members.length)).toEqual([2])
  expect(causes[0]!.title).toMatch(/lower deck.*not so/i)
})

test('agents that are gone now are a reason for a run that has just ended, not for one of long ago', async () => {
  const id = await run((_, environment) => (environment === 'narrow' ? CHECK_FAILED : undefined))
  await ctx.db.execute(sql`update agents set heartbeat_at = now() - interval '1 hour'`)
  const reasons = async () => (await runCausesViewModel(ctx, id)).causes.flatMap(({ because }) => because)
  expect(await reasons()).toContainEqual(expect.stringMatching(/not well/))
  await ctx.db.execute(sql`update runs set ended_at = now() - interval '10 minutes' where id = ${id}`)
  expect(await reasons()).not.toContainEqual(expect.stringMatching(/not well/))
})

test('what failed now and then before is told from what failed each time', async () => {
  const fails = (which: string) => (caseKey: string) => (caseKey === which ? CHECK_FAILED : undefined)
  await run(() => undefined)
  await run(fails('a'))
  await run(() => undefined)
  const now = await run((caseKey) => (caseKey === 'a' || caseKey === 'b' ? CHECK_FAILED : undefined))
  const shares = (await flakyBefore(ctx.db, now)).map(({ caseKey, share }) => [caseKey, share])
  // on both environments: one of three of a, with a build that passes too; none of b
  expect(shares.toSorted()).toEqual([
    ['a', expect.closeTo(1 / 3)],
    ['a', expect.closeTo(1 / 3)],
    ['b', 0],
    ['b', 0],
  ])
  const { causes } = await runCausesViewModel(ctx, now)
  const product = (caseTitle: string) =>
    causes
      .find(({ members }) => members[0]!.title === caseTitle)!
      .likely.find(({ cause }) => cause === 'product-defect')!.likelihood
  expect(product('A')).toBeLessThan(product('B'))
})

test('a try that passed when it was tried again is evidence of the cause it failed by, and no failure', async () => {
  const agent = await addAgent(ctx, 'wide-01', 1, ['wide'])
  const start = { suite: 'all', environments: ['wide'], build: '1.0', retries: 1, limitMs: 60_000 }
  const id = await startRun(ctx, start, 'Wren')
  const tried = new Set<string>()
  for (let work = await claimWork(ctx, agent); work; work = await claimWork(ctx, agent)) {
    const { key } = work.case
    // b passes the second time, c never, a at once
    const fails = key === 'c' || (key === 'b' && !tried.has(key))
    tried.add(key)
    await finishAttempt(
      ctx,
      { agentId: agent.id, attemptId: work.attemptId, lease: work.lease },
      fails ? { outcome: 'failed', ms: 5, failure: CHECK_FAILED } : { outcome: 'passed', ms: 5 },
    )
  }
  const { causes } = await lookAtRun(ctx, id)
  expect(causes.map(({ members, facts }) => [members.length, facts.recovered])).toEqual([[1, 0.5]])
})

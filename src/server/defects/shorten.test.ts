import { sql } from 'drizzle-orm'
import type { Failure, Work } from '@/core/execution'
import { claimWork, finishAttempt } from '../dispatch'
import { cancelRun, startRun } from '../runs'
import { addAgent, seedFiles, simpleSuite, testContext, type TestContext } from '../testing/context'
import { endShortening, goOnShortening, shorteningsViewModel, startShortening } from '.'

const CASE = `case: a
title: A
steps:
  - open: booking:/
  - click: { on: { text: One } }
  - wait: { for: { text: Two } }
  - use: pay
  - click: { on: { text: Three } }
  - check: { of: { testId: fare }, text: { equals: so } }
  - click: { on: { text: Four } }
`
const PAY = 'routine: pay\ntitle: Pay\nsteps:\n  - click: { on: { text: Pay } }\n'
const START = { suite: 'all', environments: ['wide'], build: '1.0', retries: 0, limitMs: 60_000 }

let ctx: TestContext
let agent: Awaited<ReturnType<typeof addAgent>>
beforeAll(async () => {
  ctx = await testContext()
  await seedFiles(ctx, {
    'a.case.yaml': CASE,
    'pay.routine.yaml': PAY,
    'all.suite.yaml': simpleSuite('all', ['a']),
  })
  agent = await addAgent(ctx, 'wide', 1, ['wide'])
})
afterAll(() => ctx.end())
beforeEach(async () => void (await ctx.db.execute(sql`truncate runs, audit cascade`)))

const stepsOf = (work: Work) =>
  work.case.steps.map((step) => (step.verb === 'click' ? (step.on as { text: string }).text : step.verb))
const failureAt = (at: number, message = 'fare is 12, expected so'): Failure => ({
  kind: 'check',
  path: `main.${at}`,
  message,
})

/** The next work, whose check fails as `fails` says of its steps. @returns its steps; absent: none waits */
async function carryOut(fails: (steps: string[]) => Failure | undefined) {
  const work = await claimWork(ctx, agent)
  if (!work) return undefined
  const failure = fails(stepsOf(work))
  const held = { agentId: agent.id, attemptId: work.attemptId, lease: work.lease }
  await finishAttempt(
    ctx,
    held,
    failure ? { outcome: 'failed', ms: 5, failure } : { outcome: 'passed', ms: 5 },
  )
  return { attemptId: work.attemptId, steps: stepsOf(work) }
}
const failed = async () => {
  await startRun(ctx, START, 'Wren')
  return (await carryOut(() => failureAt(5)))!.attemptId
}
/** It fails at its check where something was clicked before. @param needed what has to be there */
const failsWith =
  (...needed: string[]) =>
  (steps: string[]) =>
    needed.every((one) => steps.includes(one)) ? failureAt(steps.indexOf('check')) : undefined

/** Goes on to the end. @returns the steps of each try */
async function tryAll(fails: Parameters<typeof carryOut>[0]): Promise<string[][]> {
  const tried: string[][] = []
  for (;;) {
    await goOnShortening(ctx)
    const done = await carryOut(fails)
    if (!done) return tried
    tried.push(done.steps)
  }
}

test('fewer and fewer steps are tried, and those that are enough are told in words', async () => {
  const attempt = await failed()
  expect(await shorteningsViewModel(ctx, attempt)).toMatchObject({ found: null, canTry: true, why: null })
  await startShortening(ctx, attempt, 'Priya')
  await expect(startShortening(ctx, attempt, 'Joss')).rejects.toMatchObject({ code: 'CHANGED_MEANWHILE' })
  const tried = await tryAll(failsWith('use'))
  // what came after the failure is in no try, and what only waits goes first
  expect(tried[0]).toEqual(['open', 'One', 'wait', 'use', 'Three', 'check'])
  expect(tried[1]).toEqual(['open', 'One', 'use', 'Three', 'check'])
  expect(tried.some((steps) => steps.join() === 'use,check')).toBe(true)
  const { found, canTry } = await shorteningsViewModel(ctx, attempt)
  expect(found).toMatchObject({ state: 'over', of: 6, kept: 2, isShortest: true, by: 'Priya' })
  expect(found!.tries).toBe(tried.length)
  expect(canTry).toBe(true)
  // the tries are kept out of history
  const kinds = await ctx.db.execute(sql`select distinct kind from runs order by kind`)
  expect(kinds.rows).toEqual([{ kind: 'rehearsal' }, { kind: 'run' }])
})

test('another failure, or the same before the last step, is not the same', async () => {
  const attempt = await failed()
  await startShortening(ctx, attempt, 'Priya')
  await tryAll((steps) => {
    if (!steps.includes('open')) return failureAt(steps.length - 1, 'nothing is open')
    if (!steps.includes('One')) return failureAt(0)
    return failureAt(steps.length - 1, 'fare is 99, expected so')
  })
  const { found } = await shorteningsViewModel(ctx, attempt)
  expect(found).toMatchObject({ state: 'over', kept: 3 })
})

test('what does not fail again is told, and nothing more is tried', async () => {
  const attempt = await failed()
  await startShortening(ctx, attempt, 'Priya')
  expect(await tryAll(() => undefined)).toHaveLength(1)
  expect((await shorteningsViewModel(ctx, attempt)).found).toMatchObject({ state: 'gone', tries: 1 })
})

test('it is stopped with the run that goes on; a try that somebody cancels ends it with words', async () => {
  const attempt = await failed()
  await startShortening(ctx, attempt, 'Priya')
  await goOnShortening(ctx)
  await endShortening(ctx, attempt, 'Wren')
  expect(await claimWork(ctx, agent)).toBeUndefined()
  expect((await shorteningsViewModel(ctx, attempt)).found!.state).toBe('stopped')
  await expect(endShortening(ctx, attempt, 'Wren')).rejects.toMatchObject({ code: 'NOT_FOUND' })

  await startShortening(ctx, attempt, 'Priya')
  await goOnShortening(ctx)
  const going = await ctx.db.execute<{ id: number }>(sql`select max(id) as id from runs`)
  await cancelRun(ctx, going.rows[0]!.id, 'Joss')
  await goOnShortening(ctx)
  expect((await shorteningsViewModel(ctx, attempt)).found).toMatchObject({
    state: 'problem',
    problem: expect.stringContaining('was cancelled') as string,
  })
})

test('a try that cannot be started ends it with words', async () => {
  const attempt = await failed()
  await startShortening(ctx, attempt, 'Priya')
  await ctx.db.execute(sql`update agents set draining = true`)
  await goOnShortening(ctx)
  await ctx.db.execute(sql`update agents set draining = false`)
  expect((await shorteningsViewModel(ctx, attempt)).found).toMatchObject({
    state: 'problem',
    problem: expect.stringContaining('No live agent') as string,
  })
})

test.each<[string, Failure | undefined, RegExp]>([
  ['it passed', undefined, /did not fail/],
  ['it failed in its entry', { ...failureAt(0), path: 'entry.0' }, /before the first step/],
])('nothing is tried where %s', async (_, failure, why) => {
  await startRun(ctx, START, 'Wren')
  const { attemptId } = (await carryOut(() => failure))!
  expect((await shorteningsViewModel(ctx, attemptId)).why).toMatch(why)
  await expect(startShortening(ctx, attemptId, 'Priya')).rejects.toMatchObject({ code: 'BODY_INVALID' })
})

test('two workers at once begin each try once', async () => {
  const attempt = await failed()
  await startShortening(ctx, attempt, 'Priya')
  await Promise.all([goOnShortening(ctx), goOnShortening(ctx), goOnShortening(ctx)])
  const runs = await ctx.db.execute(sql`select 1 from runs where kind = 'rehearsal'`)
  expect(runs.rows).toHaveLength(1)
})

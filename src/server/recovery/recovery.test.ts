/** Recovery policies from where they are attached to what an attempt is given, what is kept of their use, and
 * retries beside them. */
import { asc, eq, sql } from 'drizzle-orm'
import type { NumberedEvent, Work } from '@/core/execution'
import type { AgentRow } from '@/db/agents'
import { attemptRow, runViewModel } from '@/db/runs'
import { caseRuns } from '@/db/schema'
import { putQuarantine } from '@/db/recovery'
import { claimWork, finishAttempt, heartbeat, ingestEvents, pauseAgents } from '../dispatch'
import { startRotation } from '../rota'
import { pauseRun } from '../runs'
import {
  addAgent,
  seedFiles,
  simpleCase,
  simpleSuite,
  testContext,
  type TestContext,
} from '../testing/context'
import { setWorkspacePolicy } from '.'

let ctx: TestContext
const policy = (key: string, rules: string) => `policy: ${key}\ntitle: ${key}\nrules:\n${rules}`
const rotation = (key: string, more = '') =>
  `rotation: ${key}\ntitle: ${key}\nwhat: [{ suite: outer }]\nwhere: { environments: [wide] }\n${more}`
const claim = async (agent: AgentRow): Promise<Work> => (await claimWork(ctx, agent))!
const fail = (work: Work, more: object = {}) =>
  finishAttempt(ctx, work, {
    outcome: 'errored',
    failure: { kind: 'page', message: 'no page' },
    ms: 5,
    ...more,
  })
const rules = (work: Work) => work.recovery?.rules.map(({ id, from }) => `${id} by ${from}`)
const outcomes = async (run: number) =>
  (await ctx.db.select().from(caseRuns).where(eq(caseRuns.runId, run)).orderBy(asc(caseRuns.position))).map(
    ({ caseKey, state, outcome }) => `${caseKey} ${outcome ?? state}`,
  )
const use = (no: number, rule: string, result: 'worked' | 'failed'): NumberedEvent[] => [
  {
    no,
    atMs: no,
    type: 'recovery-started',
    path: `main.0!${no}`,
    at: 'main.0',
    rule,
    policy: 'p',
    from: 'the case',
    words: 'When',
    because: 'it fits',
    resume: 'step',
    kind: 'dialog',
  },
  {
    no: no + 1,
    atMs: no + 1,
    type: 'recovery-ended',
    path: `main.0!${no}`,
    at: 'main.0',
    rule,
    result,
    ms: 40,
    resume: 'step',
    kind: 'dialog',
  },
]

beforeAll(async () => {
  ctx = await testContext()
  const rule = (key: string, more = '') => `  - rule: ${key}\n    do:\n      - note: ${key}\n${more}`
  await seedFiles(ctx, {
    'near.policy.yaml': policy('near', rule('a') + rule('b', '    off: true\n')),
    'suite.policy.yaml': policy('suite', rule('a')),
    'rota.policy.yaml': policy('rota', `  - rule: out\n    do:\n      - use: sign-out\n    mostInRun: 5\n`),
    'all.policy.yaml': policy('all', rule('last')),
    'sign-out.routine.yaml': 'routine: sign-out\ntitle: Sign out\nsteps:\n  - note: out\n',
    'one.case.yaml': simpleCase('one', 'policy: near\n'),
    'two.case.yaml': simpleCase('two'),
    'inner.suite.yaml': `policy: suite\n${simpleSuite('inner', ['one'])}`,
    'outer.suite.yaml': 'suite: outer\ntitle: Outer\nentries:\n  - suite: inner\n  - case: two\n',
    'plain.rotation.yaml': rotation('plain', 'retries: 0\n'),
    'guarded.rotation.yaml': rotation('guarded', 'policy: rota\n'),
    'on-check.rotation.yaml': rotation('on-check', 'retries: 2\nretryOn: [check]\n'),
    'other.rotation.yaml': rotation('other', 'retryAgent: other\n'),
    'same.rotation.yaml': rotation('same', 'retryAgent: same\n'),
  })
})
afterAll(() => ctx.end())
beforeEach(async () => void (await ctx.db.execute(sql`truncate runs, agents, settings, quarantines cascade`)))

test('the nearest policy first: case, suite, rotation, workspace; rules that are off are not there', async () => {
  const agent = await addAgent(ctx, 'one', 2)
  await setWorkspacePolicy(ctx, 'all', 'Wren')
  await startRotation(ctx, 'guarded', {}, 'Wren')
  const [first, second] = [await claim(agent), await claim(agent)]
  expect(rules(first)).toEqual([
    'near/a by the case',
    'suite/a by the suite INNER',
    'rota/out by the rotation guarded',
    'all/last by the workspace',
  ])
  expect(rules(second)).toEqual(['rota/out by the rotation guarded', 'all/last by the workspace'])
  expect(second.routines.map(({ key }) => key)).toContain('sign-out') // frozen with the run
})

test('without any policy there is nothing to recover with; an unknown one is refused', async () => {
  const agent = await addAgent(ctx, 'one', 2)
  await startRotation(ctx, 'plain', {}, 'Wren')
  await claim(agent)
  expect((await claim(agent)).recovery).toBeUndefined()
  await expect(setWorkspacePolicy(ctx, 'nowhere', 'Wren')).rejects.toMatchObject({ code: 'NOT_FOUND' })
})

test('uses are kept once, go on to the next try, count in the run, and make a pass recovered', async () => {
  const agent = await addAgent(ctx, 'one', 2)
  const run = await startRotation(ctx, 'guarded', {}, 'Wren')
  const [first, second] = [await claim(agent), await claim(agent)]
  const events = use(1, 'rota/out', 'failed')
  await ingestEvents(ctx, first, events)
  await ingestEvents(ctx, first, [...events, ...use(3, 'near/a', 'worked')])
  expect((await attemptRow(ctx.db, first.attemptId))!.recoveries).toMatchObject([
    { no: 2, rule: 'rota/out', result: 'failed', ms: 40, path: 'main.0', kind: 'dialog' },
    { no: 4, rule: 'near/a', result: 'worked' },
  ])
  await fail(first)
  const again = await claim(agent)
  expect(again.recovery).toMatchObject({
    history: [
      { rule: 'rota/out', result: 'failed' },
      { rule: 'near/a', result: 'worked' },
      { rule: null, result: 'worked' },
    ],
    usedMs: 80,
    usedInRun: { 'rota/out': 1, 'near/a': 1 },
  })
  await ingestEvents(ctx, second, use(1, 'rota/out', 'worked'))
  await finishAttempt(ctx, second, { outcome: 'passed', ms: 5 })
  await finishAttempt(ctx, again, { outcome: 'passed', ms: 5 })
  expect(await outcomes(run)).toEqual(['one recovered', 'two recovered'])
})

test('a rule skips a case, or stops the run and says why', async () => {
  const agent = await addAgent(ctx, 'one')
  const skipped = await startRotation(ctx, 'plain', {}, 'Wren')
  await fail(await claim(agent), { outcome: 'skipped' })
  await finishAttempt(ctx, await claim(agent), { outcome: 'passed', ms: 1 })
  expect(await outcomes(skipped)).toEqual(['one skipped', 'two passed'])
  const stopped = await startRotation(ctx, 'plain', {}, 'Wren')
  await fail(await claim(agent), { stopRun: 'One: no page; the rule says so' })
  expect(await outcomes(stopped)).toEqual(['one errored', 'two skipped'])
  expect((await runViewModel(ctx.db, stopped))!).toMatchObject({
    state: 'ended',
    endedWhy: 'Stopped by a recovery rule: One: no page; the rule says so',
  })
})

describe('tries', () => {
  test('only on the kinds that are named', async () => {
    const agent = await addAgent(ctx, 'one')
    const run = await startRotation(ctx, 'on-check', {}, 'Wren')
    await fail(await claim(agent))
    const two = await claim(agent)
    await fail(two, { outcome: 'failed', failure: { kind: 'check', message: 'it is 3' } })
    expect(await outcomes(run)).toEqual(['one errored', 'two waiting'])
  })
  test('on another agent, as long as one is here', async () => {
    const [one, two] = [await addAgent(ctx, 'one', 2), await addAgent(ctx, 'two')]
    await startRotation(ctx, 'other', {}, 'Wren')
    const [first] = [await claim(one), await claim(one)]
    await fail(first)
    expect(await claimWork(ctx, one)).toBeUndefined()
    await ctx.db.execute(sql`update agents set paused = true where id = ${two.id}`)
    expect((await claim(one)).case.key).toBe('one') // nobody else is here: better again than never
  })
  test('on the same agent, as long as it is here', async () => {
    const [one, two] = [await addAgent(ctx, 'one', 2), await addAgent(ctx, 'two')]
    await startRotation(ctx, 'same', {}, 'Wren')
    const [first] = [await claim(one), await claim(one)]
    await fail(first)
    expect(await claimWork(ctx, two)).toBeUndefined()
    await ctx.db.execute(
      sql`update agents set heartbeat_at = now() - interval '5 minutes' where id = ${one.id}`,
    )
    expect((await claim(two)).case.key).toBe('one')
  })
})

describe('pausing', () => {
  const states = async (run: number) =>
    [await outcomes(run), (await runViewModel(ctx.db, run))!.paused] as const
  test('a run: nothing is begun, what runs is told to wait, and goes on', async () => {
    const agent = await addAgent(ctx, 'one', 2)
    const run = await startRotation(ctx, 'plain', {}, 'Wren')
    const work = await claim(agent)
    await ingestEvents(ctx, work, [{ no: 1, atMs: 1, type: 'started', agent: 'one', facts: {} }])
    await pauseRun(ctx, run, true, 'Wren')
    expect(await states(run)).toEqual([['one paused', 'two waiting'], true])
    expect(await claimWork(ctx, agent)).toBeUndefined()
    expect((await heartbeat(ctx, agent, { attempts: [work] })).commands).toEqual([
      { attemptId: work.attemptId, command: 'pause' },
    ])
    await pauseRun(ctx, run, false, 'Wren')
    expect(await states(run)).toEqual([['one running', 'two waiting'], false])
    expect((await heartbeat(ctx, agent, { attempts: [work] })).commands).toEqual([])
    expect((await claim(agent)).case.key).toBe('two')
  })
  test('an agent or a pool, and what it has', async () => {
    const [one, two] = [await addAgent(ctx, 'one'), await addAgent(ctx, 'two')]
    const run = await startRotation(ctx, 'plain', {}, 'Wren')
    const work = await claim(one)
    await ingestEvents(ctx, work, [{ no: 1, atMs: 1, type: 'started', agent: 'one', facts: {} }])
    await pauseAgents(ctx, { id: one.id }, true, 'Wren')
    expect(await outcomes(run)).toEqual(['one paused', 'two waiting'])
    expect((await heartbeat(ctx, one, { attempts: [work] })).commands).toMatchObject([{ command: 'pause' }])
    await pauseAgents(ctx, { pool: 'test' }, true, 'Wren')
    expect(await claimWork(ctx, two)).toBeUndefined()
    await pauseAgents(ctx, { pool: 'test' }, false, 'Wren')
    expect([await outcomes(run), (await claim(two)).case.key]).toEqual([
      ['one running', 'two waiting'],
      'two',
    ])
    await expect(pauseAgents(ctx, { pool: 'Nowhere' }, true, 'Wren')).rejects.toMatchObject({
      code: 'NOT_FOUND',
    })
  })
  test('a paused attempt still finishes what it was doing; an ended run is not paused', async () => {
    const agent = await addAgent(ctx, 'one')
    const run = await startRotation(ctx, 'plain', {}, 'Wren')
    const work = await claim(agent)
    await pauseRun(ctx, run, true, 'Wren')
    await finishAttempt(ctx, work, { outcome: 'passed', ms: 1 })
    expect(await outcomes(run)).toEqual(['one passed', 'two waiting'])
    await pauseRun(ctx, run, false, 'Wren')
    await finishAttempt(ctx, await claim(agent), { outcome: 'passed', ms: 1 })
    await expect(pauseRun(ctx, run, true, 'Wren')).rejects.toMatchObject({ code: 'RUN_ENDED' })
  })
})

test('quarantine: its failures are counted apart, until its day', async () => {
  const agent = await addAgent(ctx, 'one')
  await putQuarantine(ctx.db, {
    caseKey: 'one',
    until: new Date(Date.now() + 3_600_000),
    because: 'the gate is being rebuilt',
    setBy: 'Wren',
  })
  await putQuarantine(ctx.db, {
    caseKey: 'two',
    until: new Date(Date.now() - 1000),
    because: 'over',
    setBy: 'Wren',
  })
  const run = await startRotation(ctx, 'plain', {}, 'Wren')
  for (let i = 0; i < 2; i++) await fail(await claim(agent))
  expect((await runViewModel(ctx.db, run))!).toMatchObject({ quarantined: 1, counts: { errored: 2 } })
})

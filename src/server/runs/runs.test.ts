import { and, asc, eq, sql } from 'drizzle-orm'
import type { Work } from '@/core/execution'
import { USUAL_HOW } from '@/core/model'
import { caseRuns, handoffs, runs } from '@/db/schema'
import type { AgentRow } from '@/db/agents'
import { historyOfCases } from '@/db/case-history'
import { runSettings } from '@/db/run-settings'
import { runViewModel } from '@/db/runs'
import { claimWork, finishAttempt } from '../dispatch'
import {
  addAgent,
  seedFiles,
  simpleCase,
  simpleSuite,
  testContext,
  type TestContext,
  laterBy,
} from '../testing/context'
import { plainWhere } from './forecast'
import { forecastFinishes, dropRehearsals, forecastStart, keepRun, startAgain, startRun } from '.'

let ctx: TestContext
let agent: AgentRow
const GIVES = simpleCase('gives').replace(
  '  - click',
  '  - read: { of: { testId: ref }, as: ref, handoff: true }\n  - click',
)
const entries = (key: string, text: string) => `suite: ${key}\ntitle: ${key}\nentries:\n${text}`
beforeAll(async () => {
  ctx = await testContext()
  await seedFiles(ctx, {
    ...Object.fromEntries(
      ['a', 'b', 'c', 'd'].map((key) => [
        `${key}.case.yaml`,
        simpleCase(key, `tags: [${key === 'd' ? 'slow, ' : ''}smoke]\n`),
      ]),
    ),
    'gives.case.yaml': GIVES,
    'takes.case.yaml': simpleCase('takes', 'needs: [ref]\n'),
    'nested.suite.yaml': entries(
      'nested',
      '  - case: a\n    entries:\n      - case: b\n        entries: [{ case: c }]\n  - case: d\n',
    ),
    'go-on.suite.yaml': entries('go-on', '  - case: a\n    onFailure: go-on\n    entries: [{ case: b }]\n'),
    'stop.suite.yaml': entries('stop', '  - case: a\n    onFailure: stop\n  - case: b\n  - case: c\n'),
    'later.suite.yaml': entries('later', '  - case: a\n    after: [b]\n  - case: b\n'),
    'hand.suite.yaml': entries('hand', '  - case: gives\n    entries: [{ case: takes }]\n'),
    'one.suite.yaml': simpleSuite('one', ['a']),
  })
})
afterAll(() => ctx.end())
beforeEach(async () => {
  await ctx.db.execute(sql`truncate runs, agents cascade`)
  agent = await addAgent(ctx, 'one', 4)
})

const start = (what: object) =>
  startRun(ctx, { environments: ['wide'], build: '1.0', retries: 0, limitMs: 60_000, ...what }, 'Wren')
const hold = ({ agentId, attemptId, lease }: Work) => ({ agentId, attemptId, lease })
const pass = (work: Work, handoffs?: Record<string, string>) =>
  finishAttempt(ctx, hold(work), { outcome: 'passed', ms: 5, ...(handoffs && { handoffs }) })
const fail = (work: Work) =>
  finishAttempt(ctx, hold(work), {
    outcome: 'failed',
    ms: 5,
    failure: { kind: 'check', message: 'no', path: 'main.1' },
  })
const lines = async (id: number) =>
  (await ctx.db.select().from(caseRuns).where(eq(caseRuns.runId, id)).orderBy(asc(caseRuns.position))).map(
    ({ caseKey, outcome, state }) => `${caseKey} ${outcome ?? state}`,
  )
async function claim(): Promise<Work> {
  const work = await claimWork(ctx, agent)
  if (!work) throw new Error('nothing to claim')
  return work
}

describe('order within a run', () => {
  test('children wait for their parent, and what stands beside it does not', async () => {
    await start({ suite: 'nested' })
    const [a, d] = [await claim(), await claim()]
    expect([a.case.key, d.case.key]).toEqual(['a', 'd'])
    expect(await claimWork(ctx, agent)).toBeUndefined()
    await pass(a)
    expect((await claim()).case.key).toBe('b')
  })
  test('a parent that does not pass takes its children and theirs with it, by name; what stands beside it runs', async () => {
    const id = await start({ suite: 'nested' })
    await fail(await claim())
    expect(await lines(id)).toEqual(['a failed', 'b skipped', 'c skipped', 'd waiting'])
    const [b] = await ctx.db.select().from(caseRuns).where(eq(caseRuns.caseKey, 'b'))
    expect(b!.failureMessage).toBe('“A” did not pass')
    await pass(await claim())
    expect((await runViewModel(ctx.db, id))!.state).toBe('ended')
  })
  test('an entry that goes on lets its children run after a failure', async () => {
    const id = await start({ suite: 'go-on' })
    await fail(await claim())
    expect((await claim()).case.key).toBe('b')
    expect(await lines(id)).toEqual(['a failed', 'b claimed'])
  })
  test('an entry that stops ends what waits; what runs ends by itself', async () => {
    const id = await start({ suite: 'stop' })
    const [a, b] = [await claim(), await claim()]
    await fail(a)
    expect(await lines(id)).toEqual(['a failed', 'b claimed', 'c skipped'])
    await pass(b)
    expect((await runViewModel(ctx.db, id))!.state).toBe('ended')
  })
  test('one environment’s failure skips nothing in another', async () => {
    const id = await start({ suite: 'nested', environments: ['wide', 'narrow'] })
    const first = await claim()
    await fail(first)
    const skipped = await ctx.db.select().from(caseRuns).where(eq(caseRuns.outcome, 'skipped'))
    expect(new Set(skipped.map(({ environment }) => environment))).toEqual(new Set([first.environment.key]))
    expect((await runViewModel(ctx.db, id))!.state).toBe('running')
  })
  test('what runs after another waits for it though it stands before it, and runs also when it failed', async () => {
    await start({ suite: 'later' })
    const b = await claim()
    expect(b.case.key).toBe('b')
    expect(await claimWork(ctx, agent)).toBeUndefined()
    await fail(b)
    expect((await claim()).case.key).toBe('a')
  })
})

describe('handoffs', () => {
  test('what one case read is given to the one that needs it, in the same run', async () => {
    await start({ suite: 'hand' })
    const gives = await claim()
    expect(await claimWork(ctx, agent)).toBeUndefined()
    await pass(gives, { ref: 'FS-40121' })
    const [kept] = await ctx.db.select().from(handoffs)
    expect(kept!.value).toMatch(/^sealed:/)
    expect((await claim()).handoffs).toEqual({ ref: 'FS-40121' })
  })
  test('nothing of another run reaches it', async () => {
    await start({ suite: 'hand' })
    await pass(await claim(), { ref: 'FS-1' })
    await pass(await claim())
    const second = await start({ suite: 'hand' })
    await pass(await claim(), {})
    expect(await claimWork(ctx, agent)).toBeUndefined()
    const [takes] = await ctx.db
      .select()
      .from(caseRuns)
      .where(and(eq(caseRuns.runId, second), eq(caseRuns.caseKey, 'takes')))
    expect(takes).toMatchObject({
      outcome: 'skipped',
      failureMessage: expect.stringContaining('“ref”'),
      attempts: 0,
    })
  })
})

describe('what a start names', () => {
  test('a rule chooses by tags at the moment of the start', async () => {
    const id = await start({ rule: 'smoke and not slow' })
    expect(await lines(id)).toEqual(['a waiting', 'b waiting', 'c waiting'])
  })
  test.each([
    {
      why: 'two things at once',
      what: { suite: 'one', cases: ['a'] },
      code: 'BODY_INVALID',
      says: 'exactly one',
    },
    {
      why: 'a rule that cannot be read',
      what: { rule: 'smoke and' },
      code: 'BODY_INVALID',
      says: 'cannot be read',
    },
    { why: 'a rule that fits nothing', what: { rule: 'nobody' }, code: 'NOTHING_TO_RUN', says: 'Nothing of' },
    { why: 'a case that is not there', what: { cases: ['a', 'zz'] }, code: 'NOT_FOUND', says: '“zz”' },
  ])('$why is refused, and nothing is written', async ({ what, code, says }) => {
    await expect(start(what)).rejects.toMatchObject({ code, message: expect.stringContaining(says) })
    expect(await ctx.db.$count(runs)).toBe(0)
  })
})

describe('what a start would come to', () => {
  const ask = (what: object, more: object = {}) =>
    forecastStart(ctx, { environments: ['wide'], retries: 1, ...what, ...more })
  test('case runs dealt to the live seats; what follows what bounds it', async () => {
    const loose = await ask({ rule: 'smoke and not slow' })
    expect(loose).toMatchObject({ caseRuns: 3, seats: 4, bound: 'single-item', unplaceable: 0 })
    expect(loose.p90Ms).toBeGreaterThanOrEqual(loose.p50Ms)
    const nested = await ask({ suite: 'nested' })
    expect(nested).toMatchObject({ caseRuns: 4, bound: 'critical-path' })
    expect(nested.boundMs).toBe(3 * loose.boundMs)
    expect(nested.p50Ms).toBeGreaterThan(loose.p50Ms)
  })
  test('it learns from what runs took, on the environment they took it', async () => {
    const before = await ask({ suite: 'one' })
    await start({ suite: 'one' })
    await pass(await claim())
    await ctx.db.execute(sql`update case_runs set duration_ms = 90000`)
    const after = await ask({ suite: 'one' })
    expect(after.p50Ms).toBeGreaterThan(before.p50Ms * 5)
    const [row] = await ctx.db
      .select()
      .from(caseRuns)
      .where(eq(caseRuns.runId, await start({ suite: 'one' })))
    expect(row!.estimateMs).toBeGreaterThan(60_000)
  })
  test('what no live agent serves can be placed nowhere; nothing that is not there is forecast', async () => {
    await ctx.db.execute(sql`update agents set environments = '{narrow}'`)
    expect(await ask({ suite: 'one' })).toMatchObject({ caseRuns: 1, seats: 0, unplaceable: 1 })
    await expect(ask({ suite: 'zz' })).rejects.toMatchObject({ code: 'NOT_FOUND' })
    await expect(ask({ suite: 'one' }, { environments: ['zz'] })).rejects.toMatchObject({ code: 'NOT_FOUND' })
  })
})

describe('rehearsals', () => {
  test('one leaves nothing in history, and counts once it is kept', async () => {
    const id = await start({ cases: ['a'], rehearsal: true, with: { port: 'Tolva' } })
    const work = await claim()
    expect(work.parameters).toMatchObject({ port: 'Tolva' })
    await pass(work)
    expect((await historyOfCases(ctx.db, ['a'])).get('a')?.outcomes ?? []).toEqual([])
    await keepRun(ctx, id, 'Wren')
    expect((await historyOfCases(ctx.db, ['a'])).get('a')!.outcomes).toHaveLength(1)
    await expect(keepRun(ctx, id, 'Wren')).rejects.toMatchObject({ code: 'NOT_FOUND' })
  })
  test('after a day it is gone, unless it was kept; runs stay', async () => {
    const [gone, kept, run] = [
      await start({ cases: ['a'], rehearsal: true }),
      await start({ cases: ['b'], rehearsal: true }),
      await start({ suite: 'one' }),
    ]
    await keepRun(ctx, kept, 'Wren')
    await pass(await claim())
    expect(await dropRehearsals(ctx)).toBe(0)
    expect(await dropRehearsals(laterBy(ctx, 25 * 3_600_000))).toBe(1)
    expect(
      (await ctx.db.select({ id: runs.id }).from(runs).orderBy(asc(runs.id))).map(({ id }) => id),
    ).toEqual([kept, run])
    expect(await runViewModel(ctx.db, gone)).toBeUndefined()
  })
})

test('run again keeps who is skipped with whom', async () => {
  const id = await start({ suite: 'nested' })
  await fail(await claim())
  await pass(await claim())
  const again = await startAgain(ctx, id, 'Wren')
  expect(await lines(again)).toEqual(['a waiting'])
})

test('run again keeps every setting of the run', async () => {
  const given = {
    retryOn: ['check', 'target'],
    retryAgent: 'same',
    runLimitMs: 900_000,
    stopAfter: 7,
    priority: 2,
    rotationKey: 'night',
    how: { ...USUAL_HOW, video: 'never', settleMs: 300, keep: { video: 3 } },
    where: { ...plainWhere(['wide']), pool: 'test' },
  }
  const id = await start({ suite: 'one', ...given })
  await fail(await claim())
  const again = await startAgain(ctx, id, 'Wren')
  const settings = (await runSettings(ctx.db, again))!
  expect(settings).toEqual(await runSettings(ctx.db, id))
  const { where, ...told } = given
  expect(settings).toMatchObject({ ...told, pool: where.pool, build: '1.0', retries: 0, limitMs: 60_000 })
})

test('the end of a run that goes on is forecast from what is left, on the seats that are here', async () => {
  const id = await start({ suite: 'nested' })
  const work = await claim()
  expect(await forecastFinishes(ctx)).toBe(1)
  const { finish } = (await runViewModel(ctx.db, id))!
  expect(finish).toMatchObject({ pace: 1, left: (await runViewModel(ctx.db, id))!.counts.waiting + 1 })
  expect(Date.parse(finish!.p90)).toBeGreaterThanOrEqual(Date.parse(finish!.p50))
  expect(Date.parse(finish!.p50)).toBeGreaterThan(Date.parse(finish!.at))
  await pass(work)
  await forecastFinishes(ctx)
  expect((await runViewModel(ctx.db, id))!.finish!.left).toBe(finish!.left - 1)
})

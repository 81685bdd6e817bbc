import { sql } from 'drizzle-orm'
import type { AgentRow } from '@/db/agents'
import { claimWork, expireLeases, finishAttempt, ingestEvents } from '../dispatch'
import { cancelRun, forecastFinishes, pauseRun, startRun } from '../runs'
import {
  addAgent,
  seedFiles,
  simpleCase,
  simpleSuite,
  testContext,
  type TestContext,
  laterBy,
} from '../testing/context'
import { askLog } from '../reading'
import {
  attemptViewModel,
  dayStripAround,
  finderViewModel,
  fleetViewModel,
  nowViewModel,
  rotationBasis,
  runViewModel,
  startOptions,
  suiteViewModel,
  suitesViewModel,
} from '.'

let ctx: TestContext
beforeAll(async () => {
  ctx = await testContext()
})
afterAll(() => ctx.end())

test('with nothing at all, every view has something true to say', async () => {
  expect(await suitesViewModel(ctx)).toMatchObject({
    tree: [],
    counts: { case: 0, routine: 0, suite: 0, data: 0, rotation: 0 },
    repositories: [],
  })
  expect((await nowViewModel(ctx, 0)).briefing.map(({ text }) => text).join('')).toContain(
    'There are no suites yet.',
  )
  expect((await fleetViewModel(ctx, 'http://x')).agents).toEqual([])
  expect((await dayStripAround(ctx)).runs).toEqual([])
  await expect(suiteViewModel(ctx, 'none')).rejects.toMatchObject({ code: 'NOT_FOUND' })
  await expect(runViewModel(ctx, 1)).rejects.toMatchObject({ code: 'NOT_FOUND' })
})

test('a run from its start to its end, as each view shows it', async () => {
  await seedFiles(ctx, {
    'a.case.yaml': simpleCase('a'),
    'b.case.yaml': simpleCase('b'),
    'in.suite.yaml': simpleSuite('in', ['b']),
    'top.suite.yaml':
      'suite: top\ntitle: TOP\nentries:\n  - group: G\n    entries:\n      - case: a\n      - case: ' +
      'b\n        off: true\n  - suite: in\n',
  })
  expect((await suitesViewModel(ctx)).tree).toEqual([
    { key: 'top', title: 'TOP', cases: 2, children: [{ key: 'in', title: 'IN', cases: 1, children: [] }] },
  ])
  const agent = await addAgent(ctx, 'one', 2, ['wide'])
  expect((await startOptions(ctx)).environments.map(({ key, seats }) => [key, seats])).toEqual([
    ['wide', 2],
    ['narrow', 0],
  ])

  const id = await startRun(
    ctx,
    { suite: 'top', environments: ['wide'], build: '1.0', retries: 0, limitMs: 60_000 },
    'Wren',
  )
  const [first, second] = [(await claimWork(ctx, agent))!, (await claimWork(ctx, agent))!]
  await ingestEvents(ctx, first, [
    {
      no: 1,
      atMs: 0,
      type: 'step-started',
      path: 'main.0',
      words: { verb: 'open', object: 'booking', detail: '/' },
    },
    {
      no: 2,
      atMs: 40,
      type: 'step-ended',
      path: 'main.0',
      outcome: 'errored',
      ms: 40,
      failure: { kind: 'page', message: 'the page answers 500' },
    },
  ])
  expect((await nowViewModel(ctx, 0)).running).toMatchObject([
    {
      id,
      seats: [
        { agent: 'one', mark: 'running', atStep: 'open booking' },
        { agent: 'one', mark: 'claimed' },
      ],
    },
  ])
  expect((await fleetViewModel(ctx, '')).agents).toMatchObject([
    {
      name: 'one',
      alive: true,
      work: [
        { seat: 1, title: 'A' },
        { seat: 2, title: 'B' },
      ],
    },
  ])
  await finishAttempt(ctx, first, {
    outcome: 'errored',
    ms: 40,
    failure: { kind: 'page', message: 'the page answers 500', path: 'main.0' },
  })
  await finishAttempt(ctx, second, { outcome: 'passed', ms: 30 })

  const run = await runViewModel(ctx, id)
  expect(run).toMatchObject({
    run: { state: 'ended', failingCases: 1 },
    failures: [first.attemptId],
    leftOut: [{ title: 'B', why: 'switched off' }],
  })
  expect(
    run.groups.map(({ title, rows }) => [title, rows.map((row) => [row.title, row.cells[0]!.mark])]),
  ).toEqual([
    ['G', [['A', 'errored']]],
    ['IN', [['B', 'passed']]],
  ])
  expect(run.lanes.map(({ agent: name, seat, bars }) => [name, seat, bars.length])).toEqual([
    ['one', 1, 1],
    ['one', 2, 1],
  ])
  expect(await attemptViewModel(ctx, first.attemptId)).toMatchObject({
    mark: 'errored',
    build: '1.0',
    lastGood: null,
    outline: { lines: 2, failing: ['main.0'], start: 'main.0' },
  })
  expect(await askLog(ctx, first.attemptId, { ask: 'all' })).toMatchObject([
    { path: 'main.0', failing: true, failure: { message: 'the page answers 500' } },
    { path: 'main.1', mark: 'skipped' },
  ])

  const suite = await suiteViewModel(ctx, 'top')
  expect(
    suite.outline.map(({ depth, kind, title, off, last }) => [
      depth,
      kind,
      title,
      off,
      last.map(({ mark }) => mark),
    ]),
  ).toEqual([
    [0, 'group', 'G', false, []],
    [1, 'case', 'A', false, ['errored']],
    [1, 'case', 'B', true, ['passed']],
    [0, 'suite', 'IN', false, []],
    [1, 'case', 'B', false, ['passed']],
  ])
  expect(suite.outline[0]!.estimateMs).toBe(suite.outline[1]!.estimateMs) // what is off is not counted
  expect((await nowViewModel(ctx, 0)).briefing.map(({ text }) => text).join('')).toContain(
    '1 of 2 passed and 1 errored in 1 case',
  )
})

test('the finder holds all words, takes wildcards as text, and finds nothing for nothing', async () => {
  // and the page of help that has the word
  expect((await finderViewModel(ctx, 'top')).map(({ kind }) => kind)).toEqual(['suite', 'run', 'help'])
  expect(await finderViewModel(ctx, '%')).toEqual([])
  expect(await finderViewModel(ctx, '   ')).toEqual([])
  expect((await finderViewModel(ctx, 'on')).map(({ title }) => title)).toEqual(['one'])
})

/** A run of the suite, done by one agent: A ends so, B passes. */
async function runTop(agent: AgentRow, build: string, outcome: 'passed' | 'errored'): Promise<void> {
  await startRun(ctx, { suite: 'top', environments: ['wide'], build, retries: 0, limitMs: 60_000 }, 'Wren')
  for (let i = 0; i < 2; i++) {
    const work = (await claimWork(ctx, agent))!
    const { key } = work.case
    await finishAttempt(
      ctx,
      work,
      key === 'a' && outcome === 'errored'
        ? { outcome, ms: 40, failure: { kind: 'page', message: 'the page answers 500', path: 'main.0' } }
        : { outcome: 'passed', ms: 30 },
    )
  }
}

test('the forecast of a rotation with steps only before all, or only after, counts them', async () => {
  const ask = (steps: { before: unknown[]; after: unknown[] }) =>
    rotationBasis(ctx, { what: [{ suite: 'top' }], with: {}, ...steps })
  const wait = [{ note: 'The tide' }]
  const phases = async (steps: { before: unknown[]; after: unknown[] }) =>
    new Set((await ask(steps)).items.map(({ phase }) => phase))
  expect(await phases({ before: wait, after: [] })).toEqual(new Set(['before', undefined]))
  expect(await phases({ before: [], after: wait })).toEqual(new Set([undefined, 'after']))
  await expect(ask({ before: [{ wait: 'soon' }], after: [] })).rejects.toThrow(/^before/)
})

test('what waits for a person: new failures that nobody logged, agents that are gone, clashes; each leads to its place', async () => {
  const third = await addAgent(ctx, 'third', 2, ['wide'])
  await runTop(third, '1.1', 'passed')
  await runTop(third, '1.2', 'errored')
  await seedFiles(
    ctx,
    Object.fromEntries(
      ['early', 'late', 'other'].map((key) => [
        `${key}.rotation.yaml`,
        `rotation: ${key}\ntitle: ${key.toUpperCase()}\nwhat: [{ suite: top }]\nwhere: { environments: ` +
          `[wide] }\nwhen: { rule: FREQ=DAILY, timezone: UTC, start: 2026-01-01T00:00 }\n`,
      ]),
    ),
  )
  await addAgent(ctx, 'gone')
  await ctx.db.execute(sql`update agents set heartbeat_at = now() - interval '1 hour' where name = 'gone'`)
  const { waiting } = await nowViewModel(ctx, 0)
  const of = (area: string) => waiting.find((item) => item.area === area)
  expect(of('TOP')).toMatchObject({
    mark: 'failed',
    title: 'A',
    why: '1 of 1 environment, new with 1.2',
    href: expect.stringMatching(/^\/attempts\//) as unknown,
  })
  expect(of('Fleet')).toMatchObject({ title: '1 agent not heard from', why: 'gone', href: '/fleet' })
  expect(of('Rota')).toMatchObject({
    title: 'EARLY, LATE and OTHER clash',
    why: expect.stringMatching(/^6 seats of test wanted, 4 there$/) as unknown,
  })
  const cover = (await fleetViewModel(ctx, '')).cover
  expect(cover.map(({ environment, pool, seats }) => [environment, pool, seats])).toEqual([
    ['wide', 'test', 4],
  ]) // the one that is gone serves nothing
})

test('a run that has just begun ends as was forecast, until the worker has looked; paused, that is said', async () => {
  const id = await startRun(
    ctx,
    { suite: 'top', environments: ['wide'], build: '1.0', retries: 0, limitMs: 60_000 },
    'Wren',
  )
  const { run, forecast } = await runViewModel(ctx, id)
  expect(forecast!.p50Ms).toBeGreaterThan(0)
  expect(run.finish).toMatchObject({
    p50: new Date(Date.parse(run.createdAt) + forecast!.p50Ms).toISOString(),
    pace: 1,
    left: 2,
  })
  const two = await addAgent(ctx, 'two', 1, ['wide'])
  expect(await claimWork(ctx, two)).toBeDefined()
  expect(await forecastFinishes(ctx)).toBe(1)
  expect((await runViewModel(ctx, id)).run.finish!.at).not.toBe(run.createdAt)
  await pauseRun(ctx, id, true, 'Wren')
  expect((await nowViewModel(ctx, 0)).running).toMatchObject([{ id, paused: true }])
  expect((await dayStripAround(ctx)).runs.find((one) => one.id === id)!.finish).not.toBeNull()
  await cancelRun(ctx, id, 'Wren')
  expect((await nowViewModel(ctx, 0)).running).toMatchObject([{ id, state: 'cancelling' }])
  await expireLeases(laterBy(ctx, 3_600_000))
  expect((await runViewModel(ctx, id)).run).toMatchObject({ state: 'ended', finish: null })
})

import { claimWork, finishAttempt, ingestEvents } from '../dispatch'
import { startRun } from '../runs'
import { addAgent, seedFiles, simpleCase, simpleSuite, testContext, type TestContext } from '../testing/context'
import { attemptSight, dayStripAround, finderSight, fleetSight, nowSight, runSight, startOptions, suiteSight, suitesSight } from '.'

let ctx: TestContext
beforeAll(async () => { ctx = await testContext() })
afterAll(() => ctx.end())

test('with nothing at all, every view has something true to say', async () => {
  expect(await suitesSight(ctx)).toMatchObject({ tree: [], counts: { case: 0, routine: 0, suite: 0, data: 0, rotation: 0 }, repositories: [] })
  expect((await nowSight(ctx, 0)).briefing.map(({ text }) => text).join('')).toContain('There are no suites yet.')
  expect((await fleetSight(ctx, 'http://x')).agents).toEqual([])
  expect((await dayStripAround(ctx)).runs).toEqual([])
  await expect(suiteSight(ctx, 'none')).rejects.toMatchObject({ code: 'NOT_FOUND' })
  await expect(runSight(ctx, 1)).rejects.toMatchObject({ code: 'NOT_FOUND' })
})

test('a run from its start to its end, as each view shows it', async () => {
  await seedFiles(ctx, {
    'a.case.yaml': simpleCase('a'), 'b.case.yaml': simpleCase('b'), 'in.suite.yaml': simpleSuite('in', ['b']),
    'top.suite.yaml': 'suite: top\ntitle: TOP\nentries:\n  - group: G\n    entries:\n      - case: a\n      - case: b\n        off: true\n  - suite: in\n',
  })
  expect((await suitesSight(ctx)).tree).toEqual([{ key: 'top', title: 'TOP', cases: 2, children: [{ key: 'in', title: 'IN', cases: 1, children: [] }] }])
  const agent = await addAgent(ctx, 'one', 2, ['wide'])
  expect((await startOptions(ctx)).environments.map(({ key, seats }) => [key, seats])).toEqual([['wide', 2], ['narrow', 0]])

  const id = await startRun(ctx, { suite: 'top', environments: ['wide'], build: '1.0', retries: 0, limitMs: 60_000 }, 'Wren')
  const [first, second] = [(await claimWork(ctx, agent))!, (await claimWork(ctx, agent))!]
  await ingestEvents(ctx, first.attemptId, first.lease, [
    { no: 1, atMs: 0, type: 'step-started', path: 'main.0', words: { verb: 'open', object: 'booking', detail: '/' } }, { no: 2, atMs: 40, type: 'step-ended', path: 'main.0', outcome: 'errored', ms: 40, failure: { kind: 'page', message: 'the page answers 500' } },
  ])
  expect((await nowSight(ctx, 0)).running).toMatchObject([{ id, seats: [{ agent: 'one', atStep: 'open booking' }, { agent: 'one' }] }])
  expect((await fleetSight(ctx, '')).agents).toMatchObject([{ name: 'one', alive: true, work: [{ seat: 1, title: 'A' }, { seat: 2, title: 'B' }] }])
  await finishAttempt(ctx, { attemptId: first.attemptId, lease: first.lease }, { outcome: 'errored', ms: 40, failure: { kind: 'page', message: 'the page answers 500', path: 'main.0' } })
  await finishAttempt(ctx, { attemptId: second.attemptId, lease: second.lease }, { outcome: 'passed', ms: 30 })

  const run = await runSight(ctx, id)
  expect(run).toMatchObject({ run: { state: 'ended', failingCases: 1 }, failures: [first.attemptId], leftOut: [{ title: 'B', why: 'switched off' }] })
  expect(run.groups.map(({ title, rows }) => [title, rows.map((row) => [row.title, row.cells[0]!.mark])])).toEqual([['G', [['A', 'errored']]], ['IN', [['B', 'passed']]]])
  expect(run.lanes.map(({ agent: name, seat, bars }) => [name, seat, bars.length])).toEqual([['one', 1, 1], ['one', 2, 1]])
  expect(await attemptSight(ctx, first.attemptId)).toMatchObject({ mark: 'errored', build: '1.0', lastGood: null, lines: [{ path: 'main.0', failing: true, failure: { message: 'the page answers 500' } }, { path: 'main.1', mark: 'skipped' }] })

  const suite = await suiteSight(ctx, 'top')
  expect(suite.outline.map(({ depth, kind, title, off, last }) => [depth, kind, title, off, last.map(({ mark }) => mark)])).toEqual([
    [0, 'group', 'G', false, []], [1, 'case', 'A', false, ['errored']], [1, 'case', 'B', true, ['passed']], [0, 'suite', 'IN', false, []], [1, 'case', 'B', false, ['passed']],
  ])
  expect(suite.outline[0]!.estimateMs).toBe(suite.outline[1]!.estimateMs) // what is off is not counted
  expect((await nowSight(ctx, 0)).briefing.map(({ text }) => text).join('')).toContain('1 of 2 passed and 1 failed in 1 case')
})

test('the finder holds all words, takes wildcards as text, and finds nothing for nothing', async () => {
  expect((await finderSight(ctx, 'top')).map(({ kind }) => kind)).toEqual(['suite', 'run'])
  expect(await finderSight(ctx, '%')).toEqual([])
  expect(await finderSight(ctx, '   ')).toEqual([])
  expect((await finderSight(ctx, 'on')).map(({ title }) => title)).toEqual(['one'])
})

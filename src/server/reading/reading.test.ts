import { claimWork, finishAttempt, ingestEvents } from '../dispatch'
import { startRun } from '../runs'
import {
  addAgent,
  seedFiles,
  simpleCase,
  simpleSuite,
  testContext,
  type TestContext,
} from '../testing/context'
import type { JobName } from '../work/jobs'
import { askBeside, askLog } from '.'

let ctx: TestContext
/** What the threads were asked, and whether the log came with it. */
const asked: string[] = []

beforeAll(async () => {
  const made = await testContext()
  const run = made.work.run.bind(made.work)
  ctx = {
    ...made,
    work: {
      run: (job, input, limits) => {
        const { log, logs } = input as { log?: unknown; logs?: unknown }
        asked.push(`${job}${log || logs ? ' with the log' : ''}`)
        return run(job as JobName, input as never, limits) as never
      },
    },
  }
  await seedFiles(ctx, { 'a.case.yaml': simpleCase('a'), 'one.suite.yaml': simpleSuite('one', ['a']) })
})
afterAll(() => ctx.end())

const words = (object: string) => ({ verb: 'click', object, detail: '' })
async function attempt(objects: string[]) {
  const agent = await addAgent(ctx, 'tolva-01', 4)
  await startRun(
    ctx,
    { suite: 'one', environments: ['wide'], build: '1.0', retries: 0, limitMs: 60_000 },
    'Wren',
  )
  const work = (await claimWork(ctx, agent))!
  const hold = { agentId: agent.id, attemptId: work.attemptId, lease: work.lease }
  const say = (from: number, said: string[]) =>
    ingestEvents(
      ctx,
      hold,
      said.flatMap((object, i) => [
        {
          no: from + 2 * i,
          atMs: i * 10,
          type: 'step-started' as const,
          path: `main.${i}`,
          words: words(object),
        },
        {
          no: from + 2 * i + 1,
          atMs: i * 10 + 5,
          type: 'step-ended' as const,
          path: `main.${i}`,
          outcome: 'passed' as const,
          ms: 5,
        },
      ]),
    )
  await say(1, objects)
  return { id: work.attemptId, hold, end: () => finishAttempt(ctx, hold, { outcome: 'passed', ms: 50 }) }
}
const ALL = { fold: false, only: null }

test('a log is read from the database once, whatever is asked of it then', async () => {
  const { id, end } = await attempt(['Book', 'Pay'])
  await end()
  asked.length = 0
  expect(await askLog(ctx, id, { ask: 'head' })).toMatchObject({ lines: 2, start: 'main.0', ms: 15 })
  expect(asked).toEqual(['readLog', 'readLog with the log'])
  expect(await askLog(ctx, id, { ask: 'window', ...ALL, find: 'pay', from: 0, count: 9 })).toMatchObject({
    rows: [{ isHit: false }, { isHit: true }],
  })
  expect(await askLog(ctx, id, { ask: 'line', path: 'main.1', ...ALL })).toMatchObject({ previous: 'main.0' })
  expect(await askLog(ctx, id, { ask: 'text', ...ALL })).toBe(
    'click Book (passed, 0.0 s)\nclick Pay (passed, 0.0 s)\n',
  )
  expect(asked.slice(2)).toEqual(['readLog', 'readLog', 'readLog'])
})

test('one that goes on is read anew when there is more of it', async () => {
  const { id, hold, end } = await attempt(['Book'])
  const passed = async () =>
    (await askLog(ctx, id, { ask: 'all' })).filter(({ mark }) => mark === 'passed').length
  expect(await passed()).toBe(1)
  await ingestEvents(ctx, hold, [
    { no: 3, atMs: 20, type: 'step-started', path: 'main.1', words: words('Pay') },
    { no: 4, atMs: 25, type: 'step-ended', path: 'main.1', outcome: 'passed', ms: 5 },
  ])
  expect(await passed()).toBe(2)
  await end()
  expect(await passed()).toBe(2)
})

test('two stand beside each other in windows, with the other line whole', async () => {
  const [then, now] = [await attempt(['Book', 'Pay', 'Print']), await attempt(['Book', 'Print'])]
  const beside = await askBeside(ctx, then.id, now.id, { from: 0, count: 2, path: 'main.1' })
  expect(beside).toMatchObject({ total: 3, differing: 1, index: 2, previous: 'main.0' })
  expect(beside.rows.map(({ kind, differs }) => `${kind} ${differs}`)).toEqual(['same false', 'removed true'])
  expect(beside.other?.line).toMatchObject({ path: 'main.2', words: { object: 'Print' } })
  await then.end()
  await now.end()
  await expect(
    askBeside(ctx, then.id, '4f1c0d3e-0000-4000-8000-000000000001', { from: 0, count: 2 }),
  ).rejects.toMatchObject({
    code: 'NOT_FOUND',
  })
})

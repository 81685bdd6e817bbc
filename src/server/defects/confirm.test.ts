import { sql } from 'drizzle-orm'
import { addDefect } from '@/db/defects'
import { claimWork, finishAttempt } from '../dispatch'
import { startRun } from '../runs'
import {
  addAgent,
  seedFiles,
  simpleCase,
  simpleSuite,
  testContext,
  type TestContext,
} from '../testing/context'
import { confirmationsViewModel, startConfirmation } from '.'

let ctx: TestContext
let agent: Awaited<ReturnType<typeof addAgent>>
beforeAll(async () => {
  ctx = await testContext()
  await seedFiles(ctx, {
    'a.case.yaml': `${simpleCase('a')}data: ports.csv\n`,
    'ports.csv': 'to\nTolva\nQuillhaven\n',
    'one.suite.yaml': simpleSuite('one', ['a']),
  })
  agent = await addAgent(ctx, 'wide', 1, ['wide'])
})
afterAll(() => ctx.end())
beforeEach(async () => void (await ctx.db.execute(sql`truncate runs, defects, audit cascade`)))

/** What waits ends, one after the other, as is said; the last of these for all that are left. */
async function carryOut(...outcomes: ('passed' | 'failed' | 'errored')[]): Promise<string[]> {
  const ids: string[] = []
  for (let work = await claimWork(ctx, agent); work; work = await claimWork(ctx, agent)) {
    const outcome = outcomes[ids.length] ?? outcomes.at(-1)!
    ids.push(work.attemptId)
    const failure = outcome === 'passed' ? {} : { failure: { kind: 'check' as const, message: 'no' } }
    const held = { agentId: agent.id, attemptId: work.attemptId, lease: work.lease }
    await finishAttempt(ctx, held, { outcome, ms: 5, ...failure })
  }
  return ids
}

/** A run of both rows in which the second fails, and the defect of that. */
async function failedOnce(): Promise<number> {
  const start = { suite: 'one', environments: ['wide'], build: '1.0', retries: 0, limitMs: 60_000 }
  const runId = await startRun(ctx, start, 'Wren')
  const [, attemptId] = await carryOut('passed', 'failed')
  const words = { steps: '', expected: '', actual: '', environment: 'Wide', severity: 'normal' as const }
  const { id } = await addDefect(
    ctx.db,
    {
      ...words,
      title: 'No',
      build: '1.0',
      evidence: [],
      attemptId: attemptId!,
      caseKey: 'a',
      runId,
      createdBy: 'Priya',
    },
    ctx.now,
  )
  return id
}
const confirm = (id: number, times = 3) =>
  startConfirmation(ctx, id, { build: '1.1', environments: ['wide'], times }, 'Priya')

test('what failed is run again with its row, so often, and says that it is mended', async () => {
  const id = await failedOnce()
  expect(await confirmationsViewModel(ctx, id)).toMatchObject({
    foundIn: '1.0',
    failed: 1,
    of: 2,
    past: [],
    environments: expect.arrayContaining([expect.objectContaining({ key: 'wide', failed: 1 })]) as unknown,
  })
  const run = await confirm(id)
  const { rows } = await ctx.db.execute(
    sql`select distinct row_index as row, count(*) over ()::int as count from case_runs where run_id = ${run}`,
  )
  expect(rows).toEqual([{ row: 2, count: 3 }])
  expect((await confirmationsViewModel(ctx, id)).past).toMatchObject([
    { runId: run, build: '1.1', by: 'Priya', verdict: 'going-on', counts: { open: 3 } },
  ])
  await carryOut('passed')
  expect((await confirmationsViewModel(ctx, id)).past[0]).toMatchObject({ verdict: 'close' })
})

test('one failure says that it is still there; an error alone says nothing', async () => {
  const id = await failedOnce()
  await confirm(id)
  await carryOut('passed', 'failed', 'passed')
  await confirm(id, 2)
  await carryOut('passed', 'errored')
  expect((await confirmationsViewModel(ctx, id)).past.map(({ verdict }) => verdict)).toEqual([
    'unclear',
    'reopen',
  ])
})

test('a defect without its attempt is run as its case is; one that is not there is refused', async () => {
  const id = await failedOnce()
  await ctx.db.execute(sql`update defects set attempt_id = null`)
  const run = await confirm(id, 1)
  const { rows } = await ctx.db.execute(
    sql`select count(*)::int as count from case_runs where run_id = ${run}`,
  )
  expect(rows).toEqual([{ count: 2 }])
  await expect(confirm(999)).rejects.toMatchObject({ code: 'NOT_FOUND' })
  await expect(confirmationsViewModel(ctx, 999)).rejects.toMatchObject({ code: 'NOT_FOUND' })
})

test('where nothing can be started, nothing is kept', async () => {
  const id = await failedOnce()
  await expect(
    startConfirmation(ctx, id, { build: '1.1', environments: ['nowhere'], times: 2 }, 'Priya'),
  ).rejects.toMatchObject({ code: 'NOT_FOUND' })
  expect((await confirmationsViewModel(ctx, id)).past).toEqual([])
})

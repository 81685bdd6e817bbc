import { noteTrackerState } from '@/db/defects'
import { seedFiles, testContext, type TestContext } from '../testing/context'
import { addedDefect } from '../defects/testing/defect'
import { decideCauses, keepCauses, measuresViewModel, readWeeks, takeBackDecision, triageViewModel } from '.'
import { endedRun, FAILING_FILES } from './testing/failing'

let ctx: TestContext
beforeAll(async () => {
  ctx = await testContext()
  await seedFiles(ctx, FAILING_FILES)
})
afterAll(() => ctx.end())

test('failures, causes, and what was decided of several at once, as long as it holds', async () => {
  const id = await endedRun(ctx, '1.0', ['a', 'b', 'c'])
  await keepCauses(ctx)
  const { groups } = await triageViewModel(ctx, 2)
  const causes = groups.map(({ signature }) => ({ signature, seen: null }))
  const [first] = await decideCauses(ctx, id, { as: 'test-data', note: '', causes }, 'Priya')
  const { weeks, rotations, proposals } = await measuresViewModel(ctx, 4)
  expect(weeks).toHaveLength(4)
  expect(weeks[0]).toMatchObject({ failures: 3, causes: 2, decisions: 2, together: 2 })
  expect(weeks[0]!.afterMs).toBeGreaterThanOrEqual(0)
  expect(weeks[1]).toMatchObject({ failures: 0, decisions: 0, afterMs: null })
  expect([rotations, proposals.of]).toEqual([[], 2])
  await takeBackDecision(ctx, first!, 'Priya')
  expect((await measuresViewModel(ctx, 4)).weeks[0]).toMatchObject({ decisions: 1, together: 0 })
})

test('a rotation with what its runs took', async () => {
  const id = await endedRun(ctx, '2.0', ['a'])
  await ctx.connection.pool.query(`update runs set rotation_key = 'night' where id = $1`, [id])
  await ctx.connection.pool.query(
    `update attempts set started_at = ended_at - interval '2 s' where run_id = $1`,
    [id],
  )
  expect((await measuresViewModel(ctx, 4)).rotations).toMatchObject([
    { rotation: 'night', runs: 1, caseRuns: 3, failures: 1, seatMs: 6000 },
  ])
})

test.each([
  [null, 4],
  ['12', 12],
  ['3', 4],
])('weeks asked for: %s', (asked, weeks) => expect(readWeeks(asked)).toBe(weeks))

test('a defect that was over at the tracker and is not any more was opened again, once', async () => {
  const id = await addedDefect(ctx, 'FSF-1')
  const stands = async (...states: (string | undefined)[]) => {
    for (const state of states) await noteTrackerState(ctx.db, id, ctx.now, state)
    return (await measuresViewModel(ctx, 4)).weeks[0]
  }
  expect(await stands('in work', undefined, 'said fixed', 'closed')).toMatchObject({ logged: 1, reopened: 0 })
  expect(await stands('closed', 'open', 'open', 'in work')).toMatchObject({ logged: 1, reopened: 1 })
  expect(await stands('said fixed', 'deleted there')).toMatchObject({ reopened: 1 })
})

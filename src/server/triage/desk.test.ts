import { sql } from 'drizzle-orm'
import { addPerson } from '@/db/people'
import { claimWork, finishAttempt } from '../dispatch'
import { addAgent, seedFiles, testContext, type TestContext } from '../testing/context'
import { decideCauses, keepCauses, readDays, runCausesViewModel, takeBackDecision, triageViewModel } from '.'
import { CHECK_FAILED, endedRun as runOf, FAILING_FILES } from './testing/failing'

let ctx: TestContext
beforeAll(async () => {
  ctx = await testContext()
  await seedFiles(ctx, FAILING_FILES)
})
afterAll(() => ctx.end())
beforeEach(async () => void (await ctx.db.execute(sql`truncate runs, agents, cause_decisions cascade`)))

/** What is left of a run fails. */
async function restOf(run: number): Promise<void> {
  const agent = await addAgent(ctx, `rest-${run}`, 1, ['wide'])
  for (let work = await claimWork(ctx, agent); work; work = await claimWork(ctx, agent))
    await finishAttempt(
      ctx,
      { agentId: agent.id, attemptId: work.attemptId, lease: work.lease },
      { outcome: 'failed', ms: 5, failure: CHECK_FAILED },
    )
}
const endedRun = (build: string, failing: readonly string[], most?: number) =>
  runOf(ctx, build, failing, most)

test('causes of runs that ended are kept once, those of several runs are one', async () => {
  const first = await endedRun('1.0', ['a', 'b', 'c'])
  const second = await endedRun('2.0', ['b', 'c'])
  expect((await triageViewModel(ctx, 2)).pending).toBe(2)
  expect(await keepCauses(ctx)).toBe(2)
  expect(await keepCauses(ctx)).toBe(0)
  const { groups, pending } = await triageViewModel(ctx, 2)
  expect(pending).toBe(0)
  expect(
    groups.map(({ failures, runs }) => [failures, runs.map(({ id, failures: own }) => [id, own])]),
  ).toEqual([
    [
      4,
      [
        [second, 2],
        [first, 2],
      ],
    ],
    [1, [[first, 1]]],
  ])
  expect(groups[0]!.members).toHaveLength(2)
})

test('what is decided comes last; a newer build brings it back', async () => {
  const first = await endedRun('1.0', ['a', 'b', 'c'])
  await keepCauses(ctx)
  const [count, fare] = (await triageViewModel(ctx, 2)).groups
  const seen = { signature: count!.signature, seen: null }
  await decideCauses(ctx, first, { as: 'known-defect', note: '', causes: [seen] }, 'Priya')
  const after = (await triageViewModel(ctx, 2)).groups
  expect(after.map(({ signature }) => signature)).toEqual([fare!.signature, count!.signature])
  expect(after[1]!.decision).toMatchObject({ as: 'known-defect', stands: true })
  await endedRun('2.0', ['b'])
  await keepCauses(ctx)
  const again = (await triageViewModel(ctx, 2)).groups
  expect(again.map(({ decision }) => decision?.stands ?? null)).toEqual([false, null])
})

test('runs that ended long ago and rehearsals are not there', async () => {
  const old = await endedRun('2.0', ['a'])
  await ctx.db.execute(sql`update runs set ended_at = now() - interval '3 days' where id = ${old}`)
  const rehearsed = await endedRun('3.0', ['a'])
  await ctx.db.execute(sql`update runs set kind = 'rehearsal' where id = ${rehearsed}`)
  expect(await keepCauses(ctx)).toBe(1)
  expect((await triageViewModel(ctx, 2)).groups).toEqual([])
  expect((await triageViewModel(ctx, 7)).groups).toHaveLength(1)
})

test('failures of a run that goes on are there as they come, and looked at once more when it has ended', async () => {
  const run = await endedRun('1.0', ['a', 'b', 'c'], 2)
  const lines = async () =>
    (await triageViewModel(ctx, 2)).groups.map(({ failures, runs }) => [failures, runs[0]!.endedAt === null])
  expect(await keepCauses(ctx)).toBe(1)
  expect(await lines()).toEqual([
    [1, true],
    [1, true],
  ])
  expect(await keepCauses(ctx)).toBe(0) // nothing new
  expect((await triageViewModel(ctx, 2)).pending).toBe(0)
  await restOf(run)
  expect(await keepCauses(ctx)).toBe(1)
  expect((await lines()).toSorted()).toEqual([
    [1, false],
    [2, false],
  ])
  expect(await keepCauses(ctx)).toBe(0)
})

test('a run that goes on and cannot be looked at is not tried again until it has other failures', async () => {
  const run = await endedRun('1.0', ['a', 'b', 'c'], 2)
  await ctx.db.execute(sql`update runs set snapshot = snapshot - 'environments' where id = ${run}`)
  expect(await keepCauses(ctx)).toBe(1)
  expect(await keepCauses(ctx)).toBe(0)
  expect((await triageViewModel(ctx, 2)).groups).toEqual([])
})

test('a decision of a run that goes on stands for what comes later in it', async () => {
  const run = await endedRun('1.0', ['b', 'c'], 2)
  await keepCauses(ctx)
  const [count] = (await triageViewModel(ctx, 2)).groups
  const sent = [{ signature: count!.signature, seen: null }]
  await decideCauses(ctx, run, { as: 'test-data', note: '', causes: sent }, 'Priya')
  await restOf(run)
  await keepCauses(ctx)
  const [after] = (await triageViewModel(ctx, 2)).groups
  expect(after).toMatchObject({ failures: 2, decision: { as: 'test-data', stands: true } })
})

test('what a cause blocks and who waits for it are told, and count for its place', async () => {
  await seedFiles(ctx, {
    'a.case.yaml': FAILING_FILES['a.case.yaml'].replace('title: A', 'title: A\nrequires: [FSF-R31, FSF-R30]'),
  })
  await addPerson(ctx.db, { id: 'w', username: 'wren', name: 'Wren', role: 'tester', passwordHash: 'x' })
  await endedRun('1.0', ['a', 'b', 'c'])
  await keepCauses(ctx)
  const { groups } = await triageViewModel(ctx, 2)
  expect(groups.map(({ failures, requirements, waiting }) => [failures, requirements, waiting])).toEqual([
    [1, ['FSF-R30', 'FSF-R31'], ['Wren']],
    [2, [], ['Wren']],
  ])
  await ctx.db.execute(sql`update runs set started_by = 'CI night'`)
  await ctx.db.execute(sql`update run_causes set cause = cause - 'requirements'`) // as earlier versions kept it
  expect(
    (await triageViewModel(ctx, 2)).groups.map(({ waiting, requirements }) => [waiting, requirements]),
  ).toEqual([
    [[], []],
    [[], []],
  ])
})

test('another version of signatures has them looked at anew, decisions stay', async () => {
  const id = await endedRun('1.0', ['a'])
  await keepCauses(ctx)
  const [cause] = (await runCausesViewModel(ctx, id)).causes
  const sent = [{ signature: cause!.signature, seen: null }]
  await decideCauses(ctx, id, { as: 'unclear', note: '', causes: sent }, 'Priya')
  await ctx.db.execute(sql`update runs set causes_version = 'before'`)
  expect(await keepCauses(ctx)).toBe(1)
  expect((await triageViewModel(ctx, 2)).groups.map(({ decision }) => decision?.as)).toEqual(['unclear'])
})

test.each([
  ['7', 7],
  ['14', 14],
  [null, 2],
  ['400', 2],
  ['-1', 2],
  ['2 ', 2],
])('days asked as %j are %d', (asked, days) => expect(readDays(asked)).toBe(days))

test('causes of the newest build come before larger ones that it did not have', async () => {
  await endedRun('1.0', ['b', 'c'])
  await endedRun('2.0', ['a'])
  await keepCauses(ctx)
  const { groups } = await triageViewModel(ctx, 2)
  expect(groups.map(({ failures, isCurrent }) => [failures, isCurrent])).toEqual([
    [1, true],
    [2, false],
  ])
})

test('a run that cannot be looked at is counted as such, once, and keeps nobody from the others', async () => {
  const first = await endedRun('1.0', ['a'])
  await endedRun('2.0', ['b'])
  await ctx.db.execute(sql`update runs set snapshot = '{}' where id = ${first}`)
  expect(await keepCauses(ctx)).toBe(2)
  expect(await keepCauses(ctx)).toBe(0)
  const { groups, pending } = await triageViewModel(ctx, 2)
  expect([groups.length, pending]).toEqual([1, 1])
})

test('how many were decided lately, and how long after their run, is told; what was taken back is not', async () => {
  const run = await endedRun('1.0', ['a', 'b'])
  await keepCauses(ctx)
  expect((await triageViewModel(ctx, 2)).lately).toEqual({ decided: 0, afterMs: null })
  const causes = (await triageViewModel(ctx, 2)).groups.map(({ signature }) => ({ signature, seen: null }))
  const [first] = await decideCauses(ctx, run, { as: 'unclear', note: '', causes }, 'Priya')
  await ctx.db.execute(sql`update runs set ended_at = decided_at - interval '5 minutes'
    from cause_decisions d where d.run_id = runs.id`)
  expect((await triageViewModel(ctx, 2)).lately).toEqual({ decided: 2, afterMs: 300_000 })
  await takeBackDecision(ctx, first!, 'Priya')
  await ctx.db.execute(sql`update cause_decisions set decided_at = now() - interval '8 days'`)
  expect((await triageViewModel(ctx, 2)).lately).toEqual({ decided: 0, afterMs: null })
})

test('a cause that one run knows to be new in the build is new, though a later one cannot tell', async () => {
  await endedRun('1.0', [])
  const known = await endedRun('2.0', ['a'])
  const later = await endedRun('2.0', ['a'])
  await keepCauses(ctx)
  await ctx.db.execute(
    sql`update run_causes set cause = jsonb_set(cause, '{isNew}', to_jsonb(run_id = ${known}))`,
  )
  const [group] = (await triageViewModel(ctx, 2)).groups
  expect([group!.runs.map(({ id }) => id), group!.isNew]).toEqual([[later, known], true])
})

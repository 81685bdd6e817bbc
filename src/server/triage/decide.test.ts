import { sql } from 'drizzle-orm'
import type { RunCauseViewModel } from '@/core/view-models'
import { addAgent, seedFiles, testContext, type TestContext } from '../testing/context'
import { decideCauses, runCausesViewModel, takeBackDecision } from '.'
import { failedRun, FAILING_FILES } from './testing/failing'

let ctx: TestContext
beforeAll(async () => {
  ctx = await testContext()
  await seedFiles(ctx, FAILING_FILES)
})
afterAll(() => ctx.end())
beforeEach(
  async () => void (await ctx.db.execute(sql`truncate runs, agents, cause_decisions, audit cascade`)),
)

const failed = async (build = '1.0') =>
  failedRun(ctx, await addAgent(ctx, `wide-${build}`, 1, ['wide']), build)
const causesIn = async (run: number) => (await runCausesViewModel(ctx, run)).causes
const seen = ({ signature, decision }: RunCauseViewModel) => ({ signature, seen: decision?.id ?? null })
const auditLines = async () =>
  (
    await ctx.db.execute<{ line: string }>(sql`select action || ': ' || (detail ->> 'as') as line from audit
    where action like 'triage%' order by id`)
  ).rows.map(({ line }) => line)

test('a decision stands for all failures of a cause, comes after what is to be decided, and is taken back', async () => {
  const run = await failed()
  const [count, fare] = await causesIn(run)
  expect([count!.members.length, fare!.members.length]).toEqual([2, 1])
  const [id] = await decideCauses(
    ctx,
    run,
    { as: 'test-fault', note: ' a new label ', causes: [seen(count!)] },
    'Priya',
  )
  const after = await causesIn(run)
  expect(after.map(({ signature }) => signature)).toEqual([fare!.signature, count!.signature])
  expect(after[1]!.decision).toMatchObject({
    id,
    as: 'test-fault',
    note: 'a new label',
    by: 'Priya',
    build: '1.0',
    stands: true,
  })
  expect(after[0]!.decision).toBeNull()
  await takeBackDecision(ctx, id!, 'Wren')
  expect((await causesIn(run)).map(({ decision }) => decision)).toEqual([null, null])
  await expect(takeBackDecision(ctx, id!, 'Wren')).rejects.toMatchObject({ code: 'NOT_FOUND' })
  expect(await auditLines()).toEqual(['triage.decide: test-fault', 'triage.take-back: test-fault'])
})

test('several are decided at once; what stood before comes back when the newest is taken back', async () => {
  const run = await failed()
  const both = await causesIn(run)
  await decideCauses(ctx, run, { as: 'unclear', note: '', causes: both.map(seen) }, 'Priya')
  const unclear = await causesIn(run)
  expect(unclear.map(({ decision }) => decision?.as)).toEqual(['unclear', 'unclear'])
  const [id] = await decideCauses(
    ctx,
    run,
    { as: 'product-defect', note: '', causes: [seen(unclear[0]!)] },
    'Wren',
  )
  await takeBackDecision(ctx, id!, 'Wren')
  expect((await causesIn(run)).map(({ decision }) => decision?.as)).toEqual(['unclear', 'unclear'])
})

test('it holds for a later run of the build; with another build somebody looks again, and is told', async () => {
  const [count] = await causesIn(await failed())
  await decideCauses(ctx, await failed(), { as: 'test-data', note: '', causes: [seen(count!)] }, 'Priya')
  const later = (await causesIn(await failed())).find(({ signature }) => signature === count!.signature)
  expect(later!.decision).toMatchObject({ as: 'test-data', stands: true })
  const other = (await causesIn(await failed('2.0'))).find(({ signature }) => signature === count!.signature)
  expect(other!.decision).toMatchObject({ as: 'test-data', build: '1.0', stands: false })
  expect(other!.likely[0]!.cause).toBe('test-data')
  expect(other!.because).toContain('a group like it was decided as test data')
})

test('of two who decide at the same moment one is told of the other, and nothing of theirs is kept', async () => {
  const run = await failed()
  const both = await causesIn(run)
  const decide = (as: 'unclear' | 'no-failure', person: string) =>
    decideCauses(ctx, run, { as, note: '', causes: both.map(seen) }, person)
  const settled = await Promise.allSettled([decide('unclear', 'Priya'), decide('no-failure', 'Joss')])
  const refused = settled.filter((one) => one.status === 'rejected')
  expect(refused).toHaveLength(1)
  expect(refused[0]!.reason).toMatchObject({ code: 'CHANGED_MEANWHILE' })
  expect(refused[0]!.reason.message).toMatch(/^(Priya|Joss) decided this meanwhile/)
  const { rows } = await ctx.db.execute(sql`select id from cause_decisions`)
  expect(rows).toHaveLength(2)
})

test('what is no cause of the run, or named twice, is refused, and decides nothing', async () => {
  const run = await failed()
  const [count] = await causesIn(run)
  const decide = (...causes: { signature: string; seen: number | null }[]) =>
    decideCauses(ctx, run, { as: 'unclear', note: '', causes }, 'Priya')
  await expect(decide(seen(count!), { signature: 'other', seen: null })).rejects.toMatchObject({
    code: 'NOT_FOUND',
  })
  await expect(decide(seen(count!), seen(count!))).rejects.toMatchObject({ code: 'BODY_INVALID' })
  expect((await causesIn(run)).every(({ decision }) => decision === null)).toBe(true)
})

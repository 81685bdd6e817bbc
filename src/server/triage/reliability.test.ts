import { sql } from 'drizzle-orm'
import { addAgent, seedFiles, testContext, type TestContext } from '../testing/context'
import { decideCauses, reliabilityViewModel, runCausesViewModel, takeBackDecision } from '.'
import { failedRun, FAILING_FILES } from './testing/failing'

let ctx: TestContext
beforeAll(async () => {
  ctx = await testContext()
  await seedFiles(ctx, FAILING_FILES)
})
afterAll(() => ctx.end())

test('what was proposed is kept with each decision, and told as long as it holds', async () => {
  expect(await reliabilityViewModel(ctx)).toMatchObject({ of: 0, since: null })
  const agent = await addAgent(ctx, 'wide', 1, ['wide'])
  const run = await failedRun(ctx, agent)
  const { causes } = await runCausesViewModel(ctx, run)
  const [first] = causes
  const top = first!.likely[0]!.cause
  const decide = (as: typeof top, i: number) =>
    decideCauses(
      ctx,
      run,
      { as, note: '', causes: [{ signature: causes[i]!.signature, seen: null }] },
      'Priya',
    )
  const [id] = await decide(top, 0)
  await decide(causes[1]!.likely[0]!.cause === 'test-data' ? 'unclear' : 'test-data', 1)
  const found = await reliabilityViewModel(ctx)
  expect(found).toMatchObject({ of: 2, right: 1, since: expect.any(String) as string })
  expect(found.byCause.find(({ cause }) => cause === top)!.right).toBe(1)
  await takeBackDecision(ctx, id!, 'Priya')
  expect(await reliabilityViewModel(ctx)).toMatchObject({ of: 1, right: 0 })
  // of a decision from before nothing is known
  await ctx.db.execute(sql`update cause_decisions set proposed = null`)
  expect(await reliabilityViewModel(ctx)).toMatchObject({ of: 0 })
})

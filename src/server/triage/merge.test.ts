import { sql } from 'drizzle-orm'
import { addAgent, seedFiles, testContext, type TestContext } from '../testing/context'
import { keepCauses, mergeCauses, runCausesViewModel, takeApart, triageViewModel } from '.'
import { failedRun, FAILING_FILES } from './testing/failing'

let ctx: TestContext
let agent: Awaited<ReturnType<typeof addAgent>>
beforeAll(async () => {
  ctx = await testContext()
  await seedFiles(ctx, FAILING_FILES)
  agent = await addAgent(ctx, 'wide', 1, ['wide'])
})
afterAll(() => ctx.end())
beforeEach(async () => void (await ctx.db.execute(sql`truncate runs, cause_merges, audit cascade`)))

async function keptRun(): Promise<number> {
  const id = await failedRun(ctx, agent)
  await keepCauses(ctx)
  return id
}
const groups = async () => (await triageViewModel(ctx, 2)).groups
const merge = async () => {
  const [one, two] = await groups()
  const body = { signature: one!.signature, title: one!.title, into: two!.signature, intoTitle: two!.title }
  return mergeCauses(ctx, body, 'Priya')
}

test('two causes are one from now on, in runs to come too, and two again when they are taken apart', async () => {
  const run = await keptRun()
  expect(await groups()).toHaveLength(2)
  const id = await merge()
  expect(await groups()).toMatchObject([{ failures: 3, merges: [{ id, by: 'Priya' }] }])
  expect((await runCausesViewModel(ctx, run)).causes).toHaveLength(1)
  const later = await keptRun()
  expect((await runCausesViewModel(ctx, later)).causes).toHaveLength(1)
  expect(await groups()).toMatchObject([{ failures: 6 }])
  await takeApart(ctx, id, 'Wren')
  expect((await groups()).map(({ failures }) => failures).toSorted()).toEqual([2, 4])
  await expect(takeApart(ctx, id, 'Wren')).rejects.toMatchObject({ code: 'NOT_FOUND' })
})

test('a run that was not looked at anew yet is told as one all the same', async () => {
  await keptRun()
  await merge()
  await ctx.db.execute(sql`update runs set causes_version = 'before'`)
  expect(await groups()).toHaveLength(1)
})

test('what is one already is not merged again, not the other way round either', async () => {
  await keptRun()
  const [one, two] = await groups()
  await merge()
  const back = { signature: two!.signature, title: 'b', into: one!.signature, intoTitle: 'a' }
  await expect(mergeCauses(ctx, back, 'Wren')).rejects.toMatchObject({ code: 'BODY_INVALID' })
  await expect(mergeCauses(ctx, { ...back, into: back.signature }, 'Wren')).rejects.toMatchObject({
    code: 'BODY_INVALID',
  })
})

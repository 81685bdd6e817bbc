import { sql } from 'drizzle-orm'
import { addAgent, seedFiles, testContext, type TestContext } from '../testing/context'
import { keepCauses, putBack, runCausesViewModel, setApart, triageViewModel } from '.'
import { failedRun, FAILING_FILES } from './testing/failing'

let ctx: TestContext
let agent: Awaited<ReturnType<typeof addAgent>>
beforeAll(async () => {
  ctx = await testContext()
  await seedFiles(ctx, FAILING_FILES)
  agent = await addAgent(ctx, 'wide', 1, ['wide'])
})
afterAll(() => ctx.end())
beforeEach(async () => void (await ctx.db.execute(sql`truncate runs, cause_splits, audit cascade`)))

async function keptRun(): Promise<number> {
  const id = await failedRun(ctx, agent)
  await keepCauses(ctx)
  return id
}
const groups = async () => (await triageViewModel(ctx, 2)).groups
/** Case c of the cause of b and c. */
const part = async () => {
  const whole = (await groups()).find(({ cases }) => cases === 2)!
  const { signature, title } = whole
  return { signature, title, by: 'case' as const, value: 'c', label: 'C' }
}

test('a part is a cause of its own from now on, in runs to come too, until it is put back', async () => {
  const run = await keptRun()
  const body = await part()
  const made = await setApart(ctx, body, 'Priya')
  expect(made).toMatchObject({ failures: 1 })
  const now = await groups()
  expect(now).toHaveLength(3)
  expect(now.find(({ signature }) => signature === made.signature)).toMatchObject({
    title: `${body.title} (in “C”)`,
    members: [{ caseKey: 'c' }],
    splits: [{ id: made.id, words: 'in “C”', by: 'Priya', isThis: true }],
    decision: null,
  })
  expect(now.find(({ signature }) => signature === body.signature)).toMatchObject({
    failures: 1,
    splits: [{ id: made.id, isThis: false }],
  })
  expect((await runCausesViewModel(ctx, run)).causes).toHaveLength(3)
  await keptRun()
  expect((await groups()).map(({ failures }) => failures)).toEqual([2, 2, 2])
  await putBack(ctx, made.id, 'Wren')
  expect((await groups()).map(({ failures }) => failures).toSorted()).toEqual([2, 4])
  await expect(putBack(ctx, made.id, 'Wren')).rejects.toMatchObject({ code: 'NOT_FOUND' })
})

test('the same part is set apart once, also when two people do it at the same moment', async () => {
  await keptRun()
  const body = await part()
  const both = await Promise.allSettled([setApart(ctx, body, 'Priya'), setApart(ctx, body, 'Joss')])
  expect(both.map(({ status }) => status).toSorted()).toEqual(['fulfilled', 'rejected'])
  await expect(setApart(ctx, body, 'Wren')).rejects.toMatchObject({ code: 'BODY_INVALID' })
  expect(await groups()).toHaveLength(3)
})

test('words that no failure says set nothing apart that is there, and that is told', async () => {
  await keptRun()
  const words = { ...(await part()), by: 'words' as const, value: 'no such gate', label: 'no such gate' }
  expect(await setApart(ctx, words, 'Priya')).toMatchObject({ failures: 0 })
  expect(await groups()).toHaveLength(2)
})

test('both are in the audit trail', async () => {
  await keptRun()
  const { id } = await setApart(ctx, await part(), 'Priya')
  await putBack(ctx, id, 'Wren')
  const { rows } = await ctx.db.execute(sql`select who, action, detail from audit order by id desc limit 2`)
  expect(rows).toMatchObject([
    { who: 'Wren', action: 'triage.put-back', detail: { part: 'in “C”' } },
    { who: 'Priya', action: 'triage.set-apart', detail: { part: 'in “C”' } },
  ])
})

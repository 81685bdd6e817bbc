import { sql } from 'drizzle-orm'
import { addDefect } from '@/db/defects'
import { addAgent, seedFiles, testContext, type TestContext } from '../testing/context'
import { decideCauses, knownDefects, runCausesViewModel, takeBackDecision } from '.'
import { failedRun, FAILING_FILES } from './testing/failing'

let ctx: TestContext
let run: number
beforeAll(async () => {
  ctx = await testContext()
  await seedFiles(ctx, FAILING_FILES)
  const agent = await addAgent(ctx, 'wide', 1, ['wide'])
  run = await failedRun(ctx, agent)
})
afterAll(() => ctx.end())
beforeEach(async () => void (await ctx.db.execute(sql`truncate defects, cause_decisions cascade`)))

const logged = (title: string, actual: string) =>
  addDefect(
    ctx.db,
    {
      title,
      actual,
      steps: '',
      expected: '',
      severity: 'normal',
      environment: 'wide',
      build: '0.9',
      evidence: [],
      attemptId: null,
      caseKey: 'a',
      runId: run,
      createdBy: 'Priya',
    },
    ctx.now,
  )
const causes = async () => (await runCausesViewModel(ctx, run)).causes
const countCause = async () => (await causes()).find(({ members }) => members.length === 2)!
const link = async (defectId: number, as: 'known-defect' | 'test-fault' = 'known-defect') => {
  const { signature, decision } = await countCause()
  const seen = decision?.id ?? null
  return decideCauses(ctx, run, { as, note: '', defectId, causes: [{ signature, seen }] }, 'Priya')
}

test('the most alike come first, with why; what is like nothing is not told', async () => {
  expect(await knownDefects(ctx, run, (await countCause()).signature)).toEqual([])
  await logged('The lamp of the ramp is out', 'no light')
  const count = await logged('The count on board is not what was expected', 'text of count')
  const found = await knownDefects(ctx, run, (await countCause()).signature)
  expect(found.map(({ id }) => id)).toEqual([count.id])
  expect(found[0]).toMatchObject({ state: 'draft', number: null, likeness: expect.any(Number) as number })
  expect(found[0]!.because).not.toBe('')
})

test('a cause is linked with a known one, which it is more alike from then on', async () => {
  const { id } = await logged('Something of the count', 'count')
  const { signature } = await countCause()
  const [before] = await knownDefects(ctx, run, signature)
  const [decision] = await link(id)
  expect((await countCause()).decision).toMatchObject({
    as: 'known-defect',
    defect: { id, title: 'Something of the count', number: null },
  })
  const [after] = await knownDefects(ctx, run, signature)
  expect(after!.likeness).toBeGreaterThan(before?.likeness ?? 0)
  await takeBackDecision(ctx, decision!, 'Wren')
  expect((await knownDefects(ctx, run, signature))[0]?.likeness).toBe(before?.likeness)
})

test('a defect that is deleted leaves the decision', async () => {
  const { id } = await logged('Something of the count', 'count')
  await link(id)
  await ctx.db.execute(sql`delete from defects where id = ${id}`)
  expect((await countCause()).decision).toMatchObject({ as: 'known-defect', defect: null })
})

test('what is not there, and what is no known defect, is refused, and nothing is decided', async () => {
  await expect(link(9999)).rejects.toMatchObject({ code: 'NOT_FOUND' })
  const { id } = await logged('Something of the count', 'count')
  await expect(link(id, 'test-fault')).rejects.toMatchObject({ code: 'BODY_INVALID' })
  expect((await countCause()).decision).toBeNull()
  await expect(knownDefects(ctx, run, 'gone')).rejects.toMatchObject({ code: 'NOT_FOUND' })
})

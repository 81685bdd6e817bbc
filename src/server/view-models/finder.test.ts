/** What the finder and histories ask is answered from indexes, also when the tables are large. */
import { sql } from 'drizzle-orm'
import { find } from '@/db/finder'
import { startRun } from '../runs'
import { addAgent, seedFiles, simpleCase, testContext, type TestContext } from '../testing/context'

let ctx: TestContext
beforeAll(async () => {
  ctx = await testContext()
  await seedFiles(ctx, { 'a.case.yaml': simpleCase('a') })
})
afterAll(() => ctx.end())

const planOf = async (query: ReturnType<typeof sql>): Promise<string> =>
  ctx.db.transaction(async (tx) => {
    // a small table is read whole, whatever indexes it has
    await tx.execute(sql`set local enable_seqscan = off`)
    const { rows } = await tx.execute(sql`explain ${query}`)
    return rows.map((row) => Object.values(row)[0]).join('\n')
  })

test('part of a word is looked up in an index, in every table', async () => {
  expect(
    await planOf(sql`select 1 from runs where title ilike '%moke 10%' or build ilike '%moke 10%'`),
  ).toContain('runs_words')
  expect(
    await planOf(sql`select 1 from definitions where title ilike '%party%' or key ilike '%party%'`),
  ).toContain('definitions_words')
  expect(
    await planOf(sql`select 1 from defects where title ilike '%fare%' or tracker_number ilike '%fare%'`),
  ).toContain('defects_words')
})

test('the last outcomes of a case come from one end of an index, without sorting', async () => {
  const plan = await planOf(
    sql`select outcome from case_runs where case_key = 'a' and ended_at is not null order by ended_at desc limit 10`,
  )
  expect(plan).toContain('case_runs_lately')
  expect(plan).not.toContain('Sort')
})

test('finds a run by part of its build', async () => {
  await addAgent(ctx, 'one')
  await startRun(
    ctx,
    { cases: ['a'], environments: ['wide'], build: '7.1', retries: 0, limitMs: 1000 },
    'Wren',
  )
  expect((await find(ctx.db, '7.1', 10)).map(({ kind, detail }) => [kind, detail])).toEqual([
    ['run', 'build 7.1'],
  ])
})

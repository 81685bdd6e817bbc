/** Rows of a large start, written from one parameter each 2,000: here, for tests of the database stand with
 * who uses it. */
import { asc, eq, sql } from 'drizzle-orm'
import { insertMany } from '@/db/bulk'
import { addRun, type NewCaseRun } from '@/db/runs'
import { caseRuns, type RunSnapshot } from '@/db/schema'
import { testContext, type TestContext } from '../testing/context'

let ctx: TestContext
let runId: number
beforeAll(async () => {
  ctx = await testContext()
  runId = await ctx.db.transaction((tx) =>
    addRun(
      tx,
      {
        title: 'R',
        suiteKey: 's',
        build: '1',
        retries: 0,
        limitMs: 1000,
        startedBy: 'Wren',
        snapshot: {} as RunSnapshot,
      },
      [],
      ctx.now,
    ),
  )
})
afterAll(() => ctx.end())
afterEach(async () => void (await ctx.db.delete(caseRuns)))

const item = (position: number, more: Partial<NewCaseRun> = {}) => ({
  runId,
  position,
  caseKey: 'a',
  title: 'A',
  groups: [],
  environment: 'wide',
  parameters: {},
  exclusive: [],
  limitMs: 1000,
  estimateMs: 10,
  ...more,
})
const stored = () => ctx.db.select().from(caseRuns).orderBy(asc(caseRuns.position))

test('each value comes back as it went in, whatever is in it', async () => {
  const awkward = 'it’s “Tolva”, \\ { } , "quoted"\nand a second line'
  const given = {
    title: awkward,
    groups: [awkward, '', 'NULL', 'a,b'],
    row: { port: awkward, empty: '' },
    parameters: { 'a "b"': awkward },
    exclusive: ['desk account'],
    quarantined: true,
    rowIndex: 3,
    rowCount: null,
  }
  await insertMany(ctx.db, caseRuns, [item(1, given)])
  expect((await stored())[0]).toMatchObject(given)
})
test('what one row leaves out, and another gives, has the default of its column', async () => {
  await insertMany(ctx.db, caseRuns, [
    item(1),
    item(2, { state: 'ended', outcome: 'skipped', scopes: ['x'], ready: false, agent: 'quill' }),
  ])
  const [plain, told] = await stored()
  expect(plain).toMatchObject({
    state: 'waiting',
    outcome: null,
    scopes: [],
    ready: true,
    agent: '',
    row: null,
    policies: [],
  })
  expect(told).toMatchObject({
    state: 'ended',
    outcome: 'skipped',
    scopes: ['x'],
    ready: false,
    agent: 'quill',
  })
  expect(plain!.id).not.toBe(told!.id) // made by the database
})
test('more rows than one statement takes are all there, once', async () => {
  await insertMany(
    ctx.db,
    caseRuns,
    Array.from({ length: 4001 }, (_, i) => item(i)),
  )
  expect(await ctx.db.$count(caseRuns)).toBe(4001)
  expect((await ctx.db.execute(sql`select count(distinct position)::int as n from case_runs`)).rows).toEqual([
    { n: 4001 },
  ])
})
test('no rows are no statement; one that breaks a rule of the table leaves none of its statement', async () => {
  await insertMany(ctx.db, caseRuns, [])
  await expect(insertMany(ctx.db, caseRuns, [item(1), item(1)])).rejects.toThrow()
  expect(await ctx.db.select().from(caseRuns).where(eq(caseRuns.runId, runId))).toEqual([])
})

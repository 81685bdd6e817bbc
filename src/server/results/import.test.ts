import { asc, eq } from 'drizzle-orm'
import { caseRuns, importedResults, runs } from '@/db/schema'
import { runViewModel } from '@/db/runs'
import { testContext, type TestContext } from '../testing/context'
import { nowViewModel } from '../view-models'
import { importResults } from '.'

let ctx: TestContext
beforeAll(async () => {
  ctx = await testContext()
})
afterAll(() => ctx.end())

/** The text in pieces of a few bytes, as a slow sender gives it. */
async function* pieces(text: string, size = 7): AsyncGenerator<Uint8Array> {
  const bytes = Buffer.from(text)
  for (let i = 0; i < bytes.length; i += size) yield bytes.subarray(i, i + size)
}
const JUNIT = `<testsuites><testsuite name="gate"><testcase classname="gate" name="boards" time="1.5">\
<properties><property name="port" value="Tolva"/></properties></testcase>
<testcase classname="gate" name="refuses" time="0.25">\
<failure type="Check" message="Refused">no party</failure></testcase>\
<testcase classname="gate" name="counts"><skipped/></testcase></testsuite></testsuites>`

test('a file becomes a run of its cases, with their outcomes, times and words', async () => {
  const { run, summary, address } = await importResults(
    ctx,
    pieces(JUNIT),
    { name: 'gate.xml', build: '2026.11.3' },
    'CI night',
  )
  expect(address).toBe(`/runs/${run}`)
  expect(summary).toMatchObject({ cases: 3, outcomes: { passed: 1, failed: 1, skipped: 1 } })
  expect(await runViewModel(ctx.db, run)).toMatchObject({
    state: 'ended',
    build: '2026.11.3',
    startedBy: 'CI night',
    counts: { passed: 1, failed: 1, skipped: 1 },
  })
  const rows = await ctx.db
    .select()
    .from(caseRuns)
    .where(eq(caseRuns.runId, run))
    .orderBy(asc(caseRuns.position))
  expect(
    rows.map(({ caseKey, title, outcome, durationMs, failureMessage }) => ({
      caseKey,
      title,
      outcome,
      durationMs,
      failureMessage,
    })),
  ).toEqual([
    { caseKey: 'gate/boards', title: 'boards', outcome: 'passed', durationMs: 1500, failureMessage: null },
    {
      caseKey: 'gate/refuses',
      title: 'refuses',
      outcome: 'failed',
      durationMs: 250,
      failureMessage: 'Refused',
    },
    { caseKey: 'gate/counts', title: 'counts', outcome: 'skipped', durationMs: 0, failureMessage: null },
  ])
  const [first] = await ctx.db
    .select()
    .from(importedResults)
    .where(eq(importedResults.caseRunId, rows[0]!.id))
  expect(first!.body.properties).toEqual({ port: 'Tolva' })
})

test('a failure from elsewhere is among what waits, and leads to its run: there is no attempt of it', async () => {
  const passing = JUNIT.replace('<failure type="Check" message="Refused">no party</failure>', '')
  await importResults(ctx, pieces(passing), { name: 'twice.xml' }, 'CI night')
  const { address } = await importResults(ctx, pieces(JUNIT), { name: 'twice.xml' }, 'CI night')
  const { waiting } = await nowViewModel(ctx, 0)
  expect(waiting.find(({ title }) => title === 'refuses')?.href).toBe(`${address}?only=failed`)
})

test('more cases than one statement holds are all there, in the order of the file', async () => {
  const many = Array.from({ length: 2500 }, (_, i) => `ok ${i + 1} - sailing ${i + 1}`).join('\n')
  const { run } = await importResults(
    ctx,
    pieces(`TAP version 13\n1..2500\n${many}\n`, 4096),
    { name: 'many.tap' },
    'Wren',
  )
  const rows = await ctx.db
    .select({ title: caseRuns.title })
    .from(caseRuns)
    .where(eq(caseRuns.runId, run))
    .orderBy(asc(caseRuns.position))
  expect(rows).toHaveLength(2500)
  expect(rows.map(({ title }) => title).slice(998, 1002)).toEqual([
    'sailing 999',
    'sailing 1000',
    'sailing 1001',
    'sailing 1002',
  ])
})

test.each([
  { why: 'cut off in the middle', text: JUNIT.slice(0, 300), line: 2 },
  { why: 'with an entity', text: '<!DOCTYPE x [<!ENTITY e "x">]>\n<testsuites/>', line: 1 },
  { why: 'of another kind', text: 'port,fare\nTolva,12\n', line: 1 },
  { why: 'with nothing in it', text: '', line: 1 },
])('a file $why is refused with its line, and nothing of it is kept', async ({ text, line }) => {
  const before = await ctx.db.$count(runs)
  await expect(importResults(ctx, pieces(text), { name: 'x' }, 'Wren')).rejects.toMatchObject({
    code: 'RESULT_REFUSED',
    detail: { line },
  })
  expect(await ctx.db.$count(runs)).toBe(before)
})

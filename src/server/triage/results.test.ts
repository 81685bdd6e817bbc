/** Failures that were taken in from a result file, on their way through Triage. */
import { eq, sql } from 'drizzle-orm'
import { caseRuns, defects } from '@/db/schema'
import { noteSent } from '@/db/defects'
import { draftOfCaseRun, logDefect, occursViewModel, seenAgain } from '../defects'
import { addBuild } from '@/db/workspace'
import { importResults } from '../results'
import { testContext, type TestContext } from '../testing/context'
import { importedViewModel } from '../view-models'
import { decideCauses, keepCauses, knownDefects, runCausesViewModel, triageViewModel } from '.'

let ctx: TestContext
beforeAll(async () => {
  ctx = await testContext()
})
afterAll(() => ctx.end())

const STACK = (line: number) => `ferry.FareError: fare of ${line} not found
\tat ferry.Fares.find(Fares.java:${line})
\tat ferry.Booking.total(Booking.java:7)`
const NIGHT = `<testsuite name="night">
<testcase classname="ferry.BookingTest" name="total of a car"><failure message="fare of 41 not found"
  type="ferry.FareError">${STACK(41)}</failure></testcase>
<testcase classname="ferry.BookingTest" name="total of a van"><failure message="fare of 52 not found"
  type="ferry.FareError">${STACK(52)}</failure></testcase>
<testcase classname="ferry.GateTest" name="boards"><error type="java.lang.NullPointerException"
  message="null">java.lang.NullPointerException: null
\tat ferry.Gate.board(Gate.java:12)</error></testcase>
<testcase classname="ferry.GateTest" name="says nothing"><failure/></testcase>
<testcase classname="ferry.GateTest" name="counts"/></testsuite>`

async function* bytesOf(text: string): AsyncGenerator<Uint8Array> {
  yield Buffer.from(text)
}
const takeIn = async (build = '1.0', file = NIGHT) =>
  (await importResults(ctx, bytesOf(file), { name: 'night.xml', build }, 'CI night')).run

test('they are told apart by what the file says, and stand in Triage', async () => {
  const run = await takeIn()
  const { of, looked, causes } = await runCausesViewModel(ctx, run)
  expect([of, looked]).toEqual([4, 4])
  expect(causes.map(({ members }) => members.map(({ title }) => title)).toSorted()).toEqual([
    ['boards'],
    ['says nothing'],
    ['total of a car', 'total of a van'],
  ])
  const fares = causes.find(({ members }) => members.length === 2)!
  expect(fares.title).toContain('fare of')
  expect(fares.members[0]).toMatchObject({ attemptId: null, environment: 'Result file' })
  expect(causes.find(({ members }) => members[0]!.title === 'boards')!.title).toContain('NullPointer')
  await keepCauses(ctx)
  const { groups, pending } = await triageViewModel(ctx, 2)
  expect([groups.length, pending]).toEqual([3, 0])
})

test('a cause is decided, and is known when the next file has it', async () => {
  const first = await takeIn('1.1')
  const { causes } = await runCausesViewModel(ctx, first)
  const { signature } = causes.find(({ members }) => members.length === 2)!
  const asked = { as: 'test-fault' as const, note: '', causes: [{ signature, seen: null }] }
  await decideCauses(ctx, first, asked, 'Wren')
  const next = await runCausesViewModel(ctx, await takeIn('1.1'))
  expect(next.causes.find((one) => one.signature === signature)?.decision).toMatchObject({
    as: 'test-fault',
    stands: true,
  })
})

const failingOf = async (run: number, title: string) =>
  (await ctx.db.select().from(caseRuns).where(eq(caseRuns.runId, run))).find((one) => one.title === title)!.id

test('a defect is drafted and logged of one, and stays when the run goes', async () => {
  const run = await takeIn('1.2')
  const caseRunId = await failingOf(run, 'total of a car')
  expect((await importedViewModel(ctx, caseRunId)).message).toBe('fare of 41 not found')
  const draft = await draftOfCaseRun(ctx, caseRunId)
  expect(draft).toMatchObject({
    title: 'total of a car: fare of 41 not found',
    steps: '1. Run the test “total of a car” of ferry.BookingTest',
    environment: 'Result file',
    build: '1.2',
    evidence: [],
  })
  expect(draft.actual).toContain('ferry.Fares.find')
  const { title, steps, expected, actual, severity } = draft
  const words = { title, steps, expected, actual, severity }
  const defect = await logDefect(ctx, { caseRunId, ...words, evidence: [], send: false }, 'Wren')
  expect(defect).toMatchObject({ caseRunId, attemptId: null, runId: run })
  const { causes } = await runCausesViewModel(ctx, run)
  const { signature } = causes.find(({ members }) => members.length === 2)!
  expect((await knownDefects(ctx, run, signature)).map(({ id }) => id)).toEqual([defect.id])
  await ctx.db.execute(sql`delete from runs where id = ${run}`)
  const [kept] = await ctx.db.select().from(defects).where(eq(defects.id, defect.id))
  expect(kept).toMatchObject({ title, caseRunId: null })
})

test('since when it fails is told, with the builds between that it did not run with', async () => {
  const file = (body: string) => `<testsuite name="s"><testcase name="lamp">${body}</testcase></testsuite>`
  await takeIn('3.0', file(''))
  await addBuild(ctx.db, '3.1')
  const run = await takeIn('3.2', file('<failure message="dark"/>'))
  const { words } = await occursViewModel(ctx, await failingOf(run, 'lamp'))
  expect(words).toContain('Failed the one time it ran on result-file with build 3.2.')
  expect(words).toContain('good there with build 3.0 (once), and not run there with 3.1 between them.')
  await expect(occursViewModel(ctx, '00000000-0000-0000-0000-000000000000')).rejects.toMatchObject({
    code: 'NOT_FOUND',
  })
})

test('one is a defect that is known: said at the tracker once, with where its result stands', async () => {
  const run = await takeIn('1.3')
  const caseRunId = await failingOf(run, 'boards')
  const draft = await draftOfCaseRun(ctx, caseRunId)
  const { title, steps, expected, actual, severity } = draft
  const words = { title, steps, expected, actual, severity, evidence: [], send: false }
  const { id } = await logDefect(ctx, { caseRunId, ...words }, 'Wren')
  await noteSent(ctx.db, id, { number: 'T-1', state: 'open', url: '' })
  expect(await seenAgain(ctx, id, { caseRunId, evidence: [] }, 'Wren')).toEqual({ said: true, decided: true })
  expect(await seenAgain(ctx, id, { caseRunId, evidence: [] }, 'Joss')).toEqual({
    said: false,
    decided: false,
  })
  const { rows } = await ctx.db.execute(sql`select text from tracker_messages where defect_id = ${id}`)
  expect(rows).toHaveLength(1)
  expect(String(rows[0]!.text)).toContain(`/runs/${run}?cell=${caseRunId}`)
})

test('what is of a build that nobody knows is not new in one', async () => {
  const passes = NIGHT.replaceAll(/<(failure|error)[\s\S]*?(<\/\1>|\/>)/g, '')
  await takeIn('1.5', passes)
  const fresh = async (build?: string) =>
    (await runCausesViewModel(ctx, await takeIn(build))).causes.some(({ isNew }) => isNew)
  expect(await fresh('unknown')).toBe(false)
  await takeIn('1.6', passes)
  expect(await fresh('1.7')).toBe(true)
})

test.each([{}, { attemptId: '0'.repeat(8) + '-0000-0000-0000-000000000000', caseRunId: 'both' }])(
  'a defect of no failure, or of two, is refused: %j',
  async (failure) => {
    const words = { title: 't', steps: '', expected: '', actual: '', severity: 'low' as const }
    await expect(
      logDefect(ctx, { ...failure, ...words, evidence: [], send: false }, 'Wren'),
    ).rejects.toMatchObject({ code: 'BODY_INVALID' })
  },
)

test('of a long stack the deepest cause counts, which stands at its end', async () => {
  const frames = Array.from({ length: 1200 }, (_, i) => `\tat lib.Deep.call${i}(Deep.java:${i})`).join('\n')
  const run = await takeIn(
    '1.4',
    `<testsuite name="deep"><testcase name="deep"><failure message="too deep">${frames}\nCaused by: ` +
      `ferry.Broken: no berth\n\tat ferry.Berth.of(Berth.java:3)</failure></testcase></testsuite>`,
  )
  const { causes } = await runCausesViewModel(ctx, run)
  expect(causes).toHaveLength(1)
  expect(causes[0]!.signature).toContain('berth')
})

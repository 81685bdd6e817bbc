import { sql } from 'drizzle-orm'
import { defectById } from '@/db/defects'
import { addAgent, seedFiles, testContext, type TestContext } from '../testing/context'
import { keepCauses, triageViewModel } from '../triage'
import { failedRun, FAILING_FILES } from '../triage/testing/failing'
import { messagesViewModel, seenAgain } from '.'
import { addedDefect } from './testing/defect'

let ctx: TestContext
let agent: Awaited<ReturnType<typeof addAgent>>
beforeAll(async () => {
  ctx = await testContext()
  await seedFiles(ctx, FAILING_FILES)
  agent = await addAgent(ctx, 'wide', 1, ['wide'])
})
afterAll(() => ctx.end())
beforeEach(async () => {
  await ctx.db.execute(sql`truncate runs, defects, cause_decisions, audit cascade`)
  await failedRun(ctx, agent)
  await keepCauses(ctx)
})

const causes = async () => (await triageViewModel(ctx, 2)).groups
const failure = async () => (await causes())[0]!.members[0]!.attemptId!

test('the tracker is told once of a failure that is a known defect, and its cause is decided', async () => {
  const [id, attemptId] = [await addedDefect(ctx, 'FSF-1'), await failure()]
  const first = await seenAgain(ctx, id, { attemptId, evidence: [] }, 'Wren')
  expect(first).toEqual({ said: true, decided: true })
  expect((await causes()).find(({ members }) => members[0]!.attemptId === attemptId)?.decision).toMatchObject(
    {
      as: 'known-defect',
      defect: { id },
      by: 'Wren',
    },
  )
  expect(await seenAgain(ctx, id, { attemptId, evidence: [] }, 'Joss')).toEqual({
    said: false,
    decided: false,
  })
  const messages = await messagesViewModel(ctx, id)
  expect(messages).toHaveLength(1)
  expect(messages[0]!.text).toContain('Seen again: ')
  expect(messages[0]!.text).toContain(`/attempts/${attemptId}`)
})

test('two people who say so at the same moment tell the tracker once', async () => {
  const [id, attemptId] = [await addedDefect(ctx, 'FSF-1'), await failure()]
  const both = await Promise.allSettled(
    ['Wren', 'Joss'].map((who) => seenAgain(ctx, id, { attemptId, evidence: [] }, who)),
  )
  expect(both.some(({ status }) => status === 'fulfilled')).toBe(true)
  expect(await messagesViewModel(ctx, id)).toHaveLength(1)
})

test('a defect that the tracker does not have is decided only', async () => {
  const [id, attemptId] = [await addedDefect(ctx), await failure()]
  expect(await seenAgain(ctx, id, { attemptId, evidence: [] }, 'Wren')).toEqual({
    said: false,
    decided: true,
  })
})

test('no defect and no attempt are said', async () => {
  const attemptId = await failure()
  await expect(seenAgain(ctx, 999, { attemptId, evidence: [] }, 'Wren')).rejects.toMatchObject({
    code: 'NOT_FOUND',
  })
  const none = '00000000-0000-4000-8000-000000000000'
  await expect(
    seenAgain(ctx, await addedDefect(ctx), { attemptId: none, evidence: [] }, 'Wren'),
  ).rejects.toMatchObject({ code: 'NOT_FOUND' })
})

test('what it was seen with is kept with the defect, each piece once', async () => {
  const [id, attemptId] = [await addedDefect(ctx, 'FSF-1'), await failure()]
  const hash = 'a'.repeat(64)
  const body = JSON.stringify({ atMs: 9, type: 'evidence', kind: 'video', hash })
  await ctx.db.execute(
    sql`insert into events (attempt_id, no, body) values (${attemptId}, 99, ${body}::jsonb)`,
  )
  const seen = { attemptId, evidence: [hash, 'of nothing'] }
  await seenAgain(ctx, id, seen, 'Wren')
  await seenAgain(ctx, id, seen, 'Joss')
  expect((await defectById(ctx.db, id))!.evidence).toEqual([{ kind: 'video', hash }])
})

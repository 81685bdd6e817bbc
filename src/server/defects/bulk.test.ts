import { sql } from 'drizzle-orm'
import { defectById } from '@/db/defects'
import { testContext, type TestContext } from '../testing/context'
import { messagesViewModel, sayOfAll, sendAll, setSeverities } from '.'
import { addedDefect } from './testing/defect'

let ctx: TestContext
beforeAll(async () => void (ctx = await testContext()))
afterAll(() => ctx.end())
beforeEach(async () => void (await ctx.db.execute(sql`truncate defects, audit cascade`)))

const jobs = async (task: string) =>
  (
    await ctx.db.execute(
      sql`select key from graphile_worker.jobs where task_identifier = ${task} order by key`,
    )
  ).rows.map(({ key }) => key)

test('the severity of drafts is changed; what was sent, changed or is gone is left with why', async () => {
  const [draft, changed, sent] = [
    await addedDefect(ctx),
    await addedDefect(ctx),
    await addedDefect(ctx, 'FSF-1'),
  ]
  await ctx.db.execute(sql`update defects set version = 5 where id = ${changed}`)
  const edits = [draft, changed, sent, 999_999].map((id) => ({ id, version: 1, severity: 'high' as const }))
  expect(await setSeverities(ctx, edits, 'Wren')).toEqual({
    done: [draft],
    left: [
      { id: changed, title: 'No fare', why: 'somebody changed it meanwhile' },
      { id: sent, title: 'FSF-1', why: 'it has been sent: what it is now, the tracker says' },
      { id: 999_999, title: 'Defect 999999', why: 'it is not there any more' },
    ],
  })
  expect(await defectById(ctx.db, draft)).toMatchObject({ severity: 'high', version: 2 })
  expect(await defectById(ctx.db, sent)).toMatchObject({ severity: 'low', version: 1 })
})

test('each may become another severity, as they were before', async () => {
  const [one, two] = [await addedDefect(ctx), await addedDefect(ctx)]
  const edits = [
    { id: one, version: 1, severity: 'critical' as const },
    { id: two, version: 1, severity: 'normal' as const },
  ]
  expect(await setSeverities(ctx, edits, 'Wren')).toMatchObject({ left: [] })
  expect(await defectById(ctx.db, one)).toMatchObject({ severity: 'critical' })
  expect(await defectById(ctx.db, two)).toMatchObject({ severity: 'normal' })
})

test('many are sent, each by a job of its own and once, and those that were sent are left', async () => {
  const [one, two, sent] = [await addedDefect(ctx), await addedDefect(ctx), await addedDefect(ctx, 'FSF-1')]
  const ids = [one, two, sent]
  expect(await sendAll(ctx, ids, 'Wren')).toMatchObject({ done: [one, two], left: [{ id: sent }] })
  await sendAll(ctx, ids, 'Wren')
  expect(await jobs('send-defect')).toEqual([`send-defect-${one}`, `send-defect-${two}`].toSorted())
})

test('the same words go to those that the tracker has, and close them', async () => {
  const [draft, one, two] = [
    await addedDefect(ctx),
    await addedDefect(ctx, 'FSF-1'),
    await addedDefect(ctx, 'FSF-2'),
  ]
  const said = { ids: [draft, one, two], text: 'Mended in 2026.11.4', state: 'closed' as const }
  expect(await sayOfAll(ctx, said, 'Wren')).toMatchObject({
    done: [one, two],
    left: [{ id: draft, why: 'the tracker does not have it: send it there first' }],
  })
  for (const id of [one, two])
    expect(await messagesViewModel(ctx, id)).toMatchObject([
      { text: 'Mended in 2026.11.4', state: 'closed', by: 'Wren', sentAt: null },
    ])
  expect(await jobs('say-at-tracker')).toHaveLength(2)
  const { rows } = await ctx.db.execute(sql`select subject, detail from audit`)
  expect(rows).toEqual([{ subject: '2 defects', detail: { ids: [one, two], state: 'closed' } }])
})

/** Refusals on the real database: each is in the audit trail, and who asks without end does not fill it. */
import { withActor } from '@/db/actor'
import { auditLines } from '@/db/audit'
import { testContext, type TestContext } from '../testing/context'
import { leftOut, noteRefusal } from './refusals'

let ctx: TestContext
beforeAll(async () => {
  ctx = await testContext()
})
afterAll(() => ctx.end())

test('says who, from where, what and why', async () => {
  const request = { method: 'POST', url: 'http://127.0.0.1/api/tokens?x=1' }
  await withActor({ id: 'priya', address: '192.0.2.7' }, () =>
    noteRefusal(ctx.db, 'Priya Castellan', request, { why: 'ROLE_TOO_LOW', role: 'viewer' }),
  )
  expect(await auditLines(ctx.db, { action: 'access.refuse' }, 9)).toMatchObject([
    {
      who: 'Priya Castellan',
      actor: 'priya',
      address: '192.0.2.7',
      subject: 'POST /api/tokens',
      detail: { why: 'ROLE_TOO_LOW', role: 'viewer' },
    },
  ])
})

test('twenty lines a minute of one person; the next minute says how many more there were', () => {
  const asked = Array.from({ length: 50 }, (_, i) => leftOut('tomas', i))
  expect(asked.filter((before) => before === 0)).toHaveLength(20)
  expect(asked.slice(20)).toEqual(Array.from({ length: 30 }, () => undefined))
  expect(leftOut('joss', 50)).toBe(0)
  expect(leftOut('tomas', 60_000)).toBe(30)
  expect(leftOut('tomas', 60_001)).toBe(0)
})

test('a thousand others do not let the count of everybody grow', () => {
  for (let i = 0; i < 3000; i++) expect(leftOut(`someone ${i}`, 0)).toBe(0)
  expect(leftOut('someone 2999', 1)).toBe(0)
})

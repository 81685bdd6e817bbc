import { sql } from 'drizzle-orm'
import { startRun } from '../runs'
import {
  addAgent,
  seedFiles,
  simpleCase,
  simpleSuite,
  testContext,
  type TestContext,
} from '../testing/context'
import { revokeShare, serveShared, shareRun, sharesOf } from './shared'

let ctx: TestContext
let run: number
let other: number
beforeAll(async () => {
  ctx = await testContext()
  await seedFiles(ctx, { 'a.case.yaml': simpleCase('a'), 'one.suite.yaml': simpleSuite('one', ['a']) })
  await addAgent(ctx, 'tolva-01')
  const settings = { suite: 'one', environments: ['wide'], build: '1.0', retries: 0, limitMs: 60_000 }
  run = await startRun(ctx, settings, 'Wren')
  other = await startRun(ctx, settings, 'Wren')
})
afterAll(() => ctx.end())

const tokenOf = ({ path }: { path: string }) => path.replace('/shared/', '')
const share = async (days = 7) => tokenOf(await shareRun(ctx, run, { days }, 'Wren'))

test('whoever has the address reads this run and nothing else, and nobody else does', async () => {
  const token = await share()
  const response = await serveShared(ctx, token)
  expect(response.status).toBe(200)
  const page = await response.text()
  expect(page).toContain('All case runs')
  expect(page).not.toMatch(/href=|<script|src="(?!data:)/)
  expect(response.headers.get('cache-control')).toContain('no-store')
  const stored = await ctx.db.execute(sql`select * from shared_runs`)
  expect(JSON.stringify(stored.rows)).not.toContain(token)
  expect((await sharesOf(ctx, run))[0]).toMatchObject({ createdBy: 'Wren', usedAt: expect.any(String) })
  expect(await sharesOf(ctx, other)).toEqual([])
})

test.each(['', 'x', '../runs', 'A'.repeat(32), '%00'.repeat(10), 'A'.repeat(10_000)])(
  '“%s” is nothing, in the same words',
  async (token) => {
    const response = await serveShared(ctx, token)
    expect(response.status).toBe(404)
    expect(await response.text()).toContain('There is nothing at this address')
  },
)

test('a revoked address, and one whose time is over, show nothing', async () => {
  const [revoked, ended] = [await share(), await share(1)]
  const [line] = (await sharesOf(ctx, run)).slice(1)
  await expect(revokeShare(ctx, other, line!.id, 'Wren')).rejects.toMatchObject({ code: 'NOT_FOUND' })
  await revokeShare(ctx, run, line!.id, 'Wren')
  expect((await serveShared(ctx, revoked)).status).toBe(404)
  await expect(revokeShare(ctx, run, line!.id, 'Wren')).rejects.toMatchObject({ code: 'NOT_FOUND' })
  expect((await serveShared(ctx, ended)).status).toBe(200)
  await ctx.db.execute(sql`update shared_runs set ends_at = now() - interval '1 s'`)
  expect((await serveShared(ctx, ended)).status).toBe(404)
  expect(await sharesOf(ctx, run)).toEqual([])
})

test('a run that is not there is shared by nobody, and one run not without end', async () => {
  await expect(shareRun(ctx, 999_999, { days: 7 }, 'Wren')).rejects.toMatchObject({ code: 'NOT_FOUND' })
  for (let i = 0; i < 50; i++) await share()
  await expect(share()).rejects.toThrow('revoke one first')
})

import { sql } from 'drizzle-orm'
import { notify } from '@/db/notify'
import { testContext, type TestContext } from '../testing/context'
import { LiveHub } from './hub'

let ctx: TestContext
let hub: LiveHub
beforeAll(async () => {
  ctx = await testContext()
  hub = new LiveHub(ctx.connection.url)
})
afterAll(async () => {
  await hub.close()
  await ctx.end()
})

/** Server processes that listen for this hub. */
const listeners = async () =>
  (
    await ctx.db.execute<{ pid: number }>(
      sql`select pid from pg_stat_activity where datname = current_database() and query like 'listen %'`,
    )
  ).rows.map(({ pid }) => pid)
async function listening(): Promise<number[]> {
  for (;;) {
    const found = await listeners()
    if (found.length > 0) return found
  }
}
/** Long enough never to be why something resolved. */
const NEVER_MS = 60_000
const never = () => new AbortController().signal

test('who waits for a thing hears of that thing, and not of others', async () => {
  await listening()
  const heard: string[] = []
  const off = hub.on(({ topic, id }) => heard.push(`${topic}:${id}`))
  const waited = hub.next('run', NEVER_MS, never(), '7')
  for (const id of [6, 7]) await notify(ctx.db, 'run', id)
  await waited
  off()
  expect(heard).toEqual(['run:6', 'run:7'])
  const fleet = hub.next('fleet', NEVER_MS, never())
  await notify(ctx.db, 'fleet')
  await fleet
  expect(heard).toHaveLength(2) // let go, it hears no more
})

test('a page that has just been drawn hears what changed meanwhile, each thing once, the newest last', async () => {
  const waited = hub.next('run', NEVER_MS, never(), '8')
  for (const id of [7, 6, 8]) await notify(ctx.db, 'run', id)
  await waited
  expect(hub.recent().filter((name) => name.startsWith('run:'))).toEqual(['run:7', 'run:6', 'run:8'])
})

test('who gives up waiting is let go at once', async () => {
  const giving = new AbortController()
  const waited = hub.next('run', NEVER_MS, giving.signal)
  giving.abort()
  await expect(waited).resolves.toBeUndefined()
})

test('a connection that breaks is made anew, and then everything is to be read again', async () => {
  const [pid] = await listening()
  const told = new Promise<string>((resolve) => {
    const off = hub.on(({ topic }) => {
      off()
      resolve(topic)
    })
  })
  await ctx.db.execute(sql`select pg_terminate_backend(${pid}::int)`)
  expect(await told).toBe('*')
  expect(await listening()).not.toContain(pid)
})

import { sql } from 'drizzle-orm'
import { addEvidence, knownEvidence } from '@/db/evidence'
import { testContext, type TestContext } from '../testing/context'

let ctx: TestContext
beforeAll(async () => void (ctx = await testContext()))
afterAll(() => ctx.end())

const isWaiting = async () =>
  (
    await ctx.db.execute(
      sql`select from pg_stat_activity where datname = current_database() and wait_event_type = 'Lock'`,
    )
  ).rows.length > 0

test('pieces are marked in one order, so that two who mark the same do not wait for each other', async () => {
  const [first, second] = ['a'.repeat(64), 'b'.repeat(64)] as const
  // The later name stands first in the table: that is the order in which they would be marked otherwise.
  for (const hash of [second, first]) await addEvidence(ctx.db, { hash, mime: 'image/png', bytes: 1 })
  let marking: Promise<Set<string>> | undefined
  await ctx.db.transaction(async (tx) => {
    await tx.execute(sql`select from evidence where hash = ${first} for update`)
    marking = knownEvidence(ctx.db, [second, first])
    while (!(await isWaiting())) await new Promise((resolve) => setImmediate(resolve))
    // Whoever marks waits for the first, and has not taken the second.
    await tx.execute(sql`select from evidence where hash = ${second} for update nowait`)
  })
  expect(await marking).toEqual(new Set([first, second]))
})

import { sql } from 'drizzle-orm'
import { LOOKING_MS } from '@/core/view-models'
import { testContext, type TestContext } from '../testing/context'
import { lookAt, lookersViewModel } from '.'

let ctx: TestContext
beforeAll(async () => void (ctx = await testContext()))
afterAll(() => ctx.end())
beforeEach(async () => void (await ctx.db.execute(sql`truncate lookers`)))

const now = async () =>
  (await lookersViewModel(ctx)).lookers.map(({ person, signature }) => [person, signature])

test('a person looks at one cause at a time, and then at none', async () => {
  await lookAt(ctx, { signature: 'fare' }, 'Wren')
  await lookAt(ctx, { signature: 'gate' }, 'Joss')
  await lookAt(ctx, { signature: 'gate' }, 'Wren')
  expect(await now()).toEqual([
    ['Joss', 'gate'],
    ['Wren', 'gate'],
  ])
  await lookAt(ctx, {}, 'Wren')
  await lookAt(ctx, {}, 'Wren')
  expect(await now()).toEqual([['Joss', 'gate']])
})

test('who does not say so any more does not look any more', async () => {
  await lookAt(ctx, { signature: 'fare' }, 'Wren')
  await ctx.db.execute(sql`update lookers set at = at - ${LOOKING_MS + 1000} * interval '1 ms'`)
  expect(await now()).toEqual([])
  await lookAt(ctx, { signature: 'fare' }, 'Wren')
  expect((await lookersViewModel(ctx)).lookers[0]!.ageMs).toBeLessThan(LOOKING_MS)
})

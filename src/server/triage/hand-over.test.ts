import { sql } from 'drizzle-orm'
import { addPerson } from '@/db/people'
import { addAgent, seedFiles, testContext, type TestContext } from '../testing/context'
import { handOver, keepCauses, triageViewModel } from '.'
import { FAILING_FILES, failedRun } from './testing/failing'

let ctx: TestContext
beforeAll(async () => {
  ctx = await testContext()
  await seedFiles(ctx, FAILING_FILES)
  for (const [id, name, role] of [
    ['1', 'Priya', 'tester'],
    ['2', 'Edda', 'viewer'],
  ] as const)
    await addPerson(ctx.db, { id, username: name.toLowerCase(), name, role, passwordHash: 'x' })
  await failedRun(ctx, await addAgent(ctx, 'tolva-01'))
  await keepCauses(ctx)
})
afterAll(() => ctx.end())
beforeEach(async () => void (await ctx.db.execute(sql`truncate cause_handovers`)))

const withWhom = async () => (await triageViewModel(ctx, 2)).groups.map((group) => group.with?.person ?? null)

test('the newest word holds; nobody may be named; others keep what they have', async () => {
  const [first, second] = (await triageViewModel(ctx, 2)).groups
  await handOver(ctx, { signature: first!.signature, person: 'Priya', note: ' look at the gate ' }, 'Wren')
  expect((await triageViewModel(ctx, 2)).groups[0]!.with).toMatchObject({
    person: 'Priya',
    note: 'look at the gate',
    by: 'Wren',
  })
  await handOver(ctx, { signature: second!.signature, person: 'Priya', note: '' }, 'Wren')
  await handOver(ctx, { signature: first!.signature, person: '', note: '' }, 'Priya')
  expect(await withWhom()).toEqual([null, 'Priya'])
})

test('who may decide nothing is given nothing', async () => {
  const [first] = (await triageViewModel(ctx, 2)).groups
  const { signature } = first!
  for (const person of ['Edda', 'Somebody'])
    await expect(handOver(ctx, { signature, person, note: '' }, 'Wren')).rejects.toMatchObject({
      code: 'BODY_INVALID',
    })
  expect(await withWhom()).toEqual([null, null])
})

import { sql } from 'drizzle-orm'
import { addAgent, seedFiles, testContext, type TestContext } from '../testing/context'
import { keepCauses, triageViewModel } from '../triage'
import { failedRun, FAILING_FILES } from '../triage/testing/failing'
import { draftFrom, ownerRules, putOwnerRules } from '.'

let ctx: TestContext
let attemptId: string
beforeAll(async () => {
  ctx = await testContext()
  await seedFiles(ctx, {
    ...FAILING_FILES,
    'a.case.yaml': FAILING_FILES['a.case.yaml'].replace('steps:', 'tags: [money]\npriority: high\nsteps:'),
  })
  await failedRun(ctx, await addAgent(ctx, 'wide', 1, ['wide']))
  await keepCauses(ctx)
  const members = (await triageViewModel(ctx, 2)).groups.flatMap((group) => group.members)
  attemptId = members.find(({ caseKey }) => caseKey === 'a')!.attemptId!
})
afterAll(() => ctx.end())
beforeEach(async () => void (await ctx.db.execute(sql`delete from settings where name = 'owner-rules'`)))

const rule = (more = {}) => ({ application: '', tag: '', folder: '', name: 'Money crew', mail: '', ...more })

test('a draft names who answers for it by the first rule that fits, and why', async () => {
  expect((await draftFrom(ctx, attemptId)).owner).toBeNull()
  await putOwnerRules(ctx, [rule({ tag: 'sea', name: 'Sea' }), rule({ tag: ' money ' })], 'Tomas')
  expect((await draftFrom(ctx, attemptId)).owner).toEqual({
    name: 'Money crew',
    mail: '',
    because: 'the case has the tag money',
  })
})

test('rules that are wrong are refused as a whole', async () => {
  await putOwnerRules(ctx, [rule()], 'Tomas')
  await expect(putOwnerRules(ctx, [rule(), rule({ name: ' ' })], 'Tomas')).rejects.toMatchObject({
    code: 'BODY_INVALID',
    message: expect.stringContaining('Rule 2 names nobody'),
  })
  expect(await ownerRules(ctx)).toEqual([rule()])
})

test('a draft proposes a severity, with what speaks for it', async () =>
  expect(await draftFrom(ctx, attemptId)).toMatchObject({
    severity: 'high',
    because: 'the case has the priority high',
  }))

import type { Outcome } from '@/core/execution'
import { claimWork, finishAttempt } from '../dispatch'
import { startRotation } from '../rota'
import {
  addAgent,
  seedFiles,
  simpleCase,
  simpleSuite,
  testContext,
  type TestContext,
} from '../testing/context'
import { serveRotationReport } from './rotation'

let ctx: TestContext
beforeAll(async () => {
  ctx = await testContext()
  await seedFiles(ctx, {
    'a.case.yaml': simpleCase('a'),
    'b.case.yaml': simpleCase('b'),
    'one.suite.yaml': simpleSuite('one', ['a', 'b']),
    'nightly.rotation.yaml':
      'rotation: nightly\ntitle: Every Night\nwhat: [{ suite: one }]\nwhere: { environments: [wide] ' +
      '}\nretries: 0\n',
  })
  const agent = await addAgent(ctx, 'one')
  for (const outcomes of [
    { a: 'passed', b: 'passed' },
    { a: 'failed', b: 'passed' },
    { a: 'passed', b: 'passed' },
  ] as const) {
    await startRotation(ctx, 'nightly', {}, 'Wren')
    for (let i = 0; i < 2; i++) {
      const work = (await claimWork(ctx, agent))!
      const outcome: Outcome = outcomes[work.case.key as 'a' | 'b']
      const failure = { kind: 'check', message: 'Another fare', path: 'main.0' } as const
      await finishAttempt(ctx, work, { outcome, ms: 5, ...(outcome === 'failed' && { failure }) })
    }
  }
  await startRotation(ctx, 'nightly', {}, 'Wren') // goes on: it is not in the report
})
afterAll(() => ctx.end())

const report = async (runs: number, as = 'json') => serveRotationReport(ctx, 'nightly', runs, as)

test('the runs that ended, the oldest first, and each case in them', async () => {
  const told = (await (await report(20)).json()) as {
    runs: { counts: object }[]
    cases: object[]
    title: string
  }
  expect(told.title).toBe('Every Night')
  expect(told.runs.map(({ counts }) => counts)).toEqual([
    { passed: 2 },
    { failed: 1, passed: 1 },
    { passed: 2 },
  ])
  expect(told.cases).toMatchObject([
    { case: 'a', marks: ['passed', 'failed', 'passed'], failures: 1, turns: 2 },
    { case: 'b', marks: ['passed', 'passed', 'passed'], failures: 0, turns: 0 },
  ])
  const last = (await (await report(1)).json()) as { cases: object[] }
  expect(last.cases).toMatchObject([{ marks: ['passed'] }, { marks: ['passed'] }])
})

test('as the other formats', async () => {
  expect(await (await report(20, 'html')).text()).toContain('Cases that failed, or changed')
  expect(await (await report(20, 'csv')).text()).toContain('a,A,,wide,1,2')
  expect(await (await report(20, 'xml')).text()).toContain('failures="1"')
  expect((await report(20, 'xlsx')).headers.get('content-disposition')).toContain('rotation-nightly.xlsx')
})

test('what is wrong is told', async () => {
  for (const runs of [0, 61, 1.5, Number.NaN])
    await expect(async () => report(runs)).rejects.toMatchObject({ code: 'BODY_INVALID' })
  await expect(async () => report(5, 'docx')).rejects.toMatchObject({ code: 'BODY_INVALID' })
  await expect(serveRotationReport(ctx, 'weekly', 5, 'html')).rejects.toMatchObject({ code: 'NOT_FOUND' })
})

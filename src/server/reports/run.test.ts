import sharp from 'sharp'
import { claimWork, finishAttempt, ingestEvents } from '../dispatch'
import { keepEvidence } from '../evidence'
import { hashOf } from '../evidence/store'
import { startRun } from '../runs'
import {
  addAgent,
  seedFiles,
  simpleCase,
  simpleSuite,
  testContext,
  type TestContext,
} from '../testing/context'
import { serveRunReport } from './run'

let ctx: TestContext
let id: number
beforeAll(async () => {
  ctx = await testContext()
  await seedFiles(ctx, { 'a.case.yaml': simpleCase('a'), 'one.suite.yaml': simpleSuite('one', ['a']) })
  const agent = await addAgent(ctx, 'tolva-01')
  id = await startRun(
    ctx,
    { suite: 'one', environments: ['wide'], build: '1.0', retries: 0, limitMs: 60_000 },
    'Wren',
  )
  const work = (await claimWork(ctx, agent))!
  const screen = await sharp({ create: { width: 8, height: 8, channels: 3, background: '#2b6f5c' } })
    .png()
    .toBuffer()
  await keepEvidence(ctx, hashOf(screen), 'image/png', screen)
  const hold = { agentId: agent.id, attemptId: work.attemptId, lease: work.lease }
  await ingestEvents(ctx, hold, [
    {
      no: 1,
      atMs: 0,
      type: 'step-started',
      path: 'main.0',
      words: { verb: 'check', object: 'fare', detail: '' },
    },
    {
      no: 2,
      atMs: 5,
      type: 'screen',
      path: 'main.0',
      phase: 'after',
      hash: hashOf(screen),
      width: 8,
      height: 8,
    },
    {
      no: 3,
      atMs: 9,
      type: 'step-ended',
      path: 'main.0',
      outcome: 'failed',
      ms: 9,
      failure: { kind: 'check', message: '<i>fare</i> is another', expected: '45', actual: '47' },
    },
  ])
  await finishAttempt(ctx, hold, {
    outcome: 'failed',
    ms: 12,
    failure: {
      kind: 'check',
      message: '<i>fare</i> is another',
      expected: '45',
      actual: '47',
      path: 'main.0',
    },
  })
})
afterAll(() => ctx.end())

const report = async (as: string) => {
  const response = await serveRunReport(ctx, id, as)
  return { response, text: await response.text() }
}

test('HTML has the failure as text, with its screen, and comes as a file', async () => {
  const { response, text } = await report('html')
  expect(response.headers.get('content-disposition')).toBe(`attachment; filename="run-${id}.html"`)
  expect(response.headers.get('content-security-policy')).toContain('sandbox')
  expect(text).toContain('&lt;i&gt;fare&lt;/i&gt; is another')
  expect(text).toMatch(/<img\s+src="data:image\/png;base64,/)
})

test('CSV, JUnit XML and JSON say the same', async () => {
  expect((await report('csv')).text).toContain('<i>fare</i> is another,45,47')
  expect((await report('xml')).text).toContain('failures="1"')
  expect(JSON.parse((await report('json')).text)).toMatchObject({
    id,
    cases: [{ case: 'a', mark: 'failed', expected: '45', actual: '47' }],
  })
})

test('another format, and a run that is not there, are refused', async () => {
  await expect(serveRunReport(ctx, id, 'docx')).rejects.toMatchObject({ code: 'BODY_INVALID' })
  await expect(serveRunReport(ctx, 999_999, 'html')).rejects.toMatchObject({ code: 'NOT_FOUND' })
})

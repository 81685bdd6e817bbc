import { strFromU8, unzipSync } from 'fflate'
import readXlsx from 'read-excel-file/node'
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
import { createHash } from 'node:crypto'
import { sql } from 'drizzle-orm'
import { verdictOn } from '@/core/reports'
import { serveDocument } from './document'
import { serveBundle } from './bundle'
import { serveCaseRunReport, serveRunReport } from './run'

let ctx: TestContext
let id: number
let attemptId: string
beforeAll(async () => {
  ctx = await testContext()
  await seedFiles(ctx, {
    'a.case.yaml': simpleCase('a'),
    'b.case.yaml': simpleCase('b'),
    'one.suite.yaml': simpleSuite('one', ['a', 'b']),
  })
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
  attemptId = work.attemptId
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
    cases: [
      { case: 'a', mark: 'failed', expected: '45', actual: '47' },
      { case: 'b', mark: 'waiting' },
    ],
  })
})

test('XLSX has a row for each case run, in which nothing is a formula', async () => {
  const response = await serveRunReport(ctx, id, 'xlsx')
  const sheets = await readXlsx(Buffer.from(await response.arrayBuffer()))
  expect(sheets.map(({ sheet }) => sheet)).toEqual(['Case runs', 'Run', 'Left out'])
  const [columns, row] = sheets[0]!.data
  const told = Object.fromEntries(columns!.map((name, i) => [String(name), row![i]]))
  expect(told).toMatchObject({ case: 'a', failure: '<i>fare</i> is another', expected: '45', attempts: 1 })
})

test('the evidence document of an attempt is sound, and its hash is in the audit trail', async () => {
  const response = await serveDocument(ctx, attemptId, 'Wren')
  expect(response.headers.get('content-disposition')).toContain(`evidence-${attemptId}.html`)
  const verdict = verdictOn(
    await response.text(),
    (of) => createHash('sha256').update(of).digest('hex'),
    (base64) => Buffer.from(base64, 'base64'),
  )
  expect(verdict).toMatchObject({ sound: true, pieces: 1 })
  const { rows } = await ctx.db.execute(sql`select detail from audit where action = 'document.make'`)
  expect(JSON.stringify(rows)).toContain((verdict as { hash: string }).hash)
  await expect(serveDocument(ctx, '4f1c0d3e-0000-4000-8000-000000000001', 'Wren')).rejects.toMatchObject({
    code: 'NOT_FOUND',
  })
})

test('of a case run nothing else is told, and its counts are its own', async () => {
  const response = await serveCaseRunReport(ctx, attemptId, 'json')
  expect(await response.json()).toMatchObject({
    id,
    counts: { failed: 1, waiting: 0 },
    cases: [{ case: 'a', mark: 'failed' }],
    environments: [{ key: 'wide' }],
  })
  const csv = await (await serveCaseRunReport(ctx, attemptId, 'csv')).text()
  expect(csv.trim().split('\r\n')).toHaveLength(2)
  await expect(serveCaseRunReport(ctx, attemptId, 'docx')).rejects.toMatchObject({ code: 'BODY_INVALID' })
})

test('a zip of the case run works from disk: every address in it is a file of it', async () => {
  const response = await serveBundle(ctx, attemptId, 'Wren')
  expect(response.headers.get('content-disposition')).toContain(`a-${id}.zip`)
  const files = unzipSync(new Uint8Array(await response.arrayBuffer()))
  const text = (name: string) => strFromU8(files[name]!)
  expect(Object.keys(files).sort()).toEqual([
    'attempt-1/evidence.html',
    'attempt-1/index.html',
    'attempt-1/log.txt',
    'attempt-1/screens/0001.png',
    'index.html',
  ])
  for (const [page, folder] of [
    ['index.html', ''],
    ['attempt-1/index.html', 'attempt-1/'],
  ] as const) {
    const named = [...text(page).matchAll(/(?:src|href)="([^"]+)"/g)].map(([, address]) =>
      new URL(address!, `file:///${folder}`).pathname.slice(1),
    )
    expect(named.length).toBeGreaterThan(0)
    expect(named.filter((name) => !(name in files))).toEqual([])
    expect(text(page)).not.toContain('<i>fare')
  }
  expect(text('attempt-1/log.txt')).toContain('fare')
})

test('another format, and a run that is not there, are refused', async () => {
  await expect(serveRunReport(ctx, id, 'docx')).rejects.toMatchObject({ code: 'BODY_INVALID' })
  await expect(serveRunReport(ctx, 999_999, 'html')).rejects.toMatchObject({ code: 'NOT_FOUND' })
})

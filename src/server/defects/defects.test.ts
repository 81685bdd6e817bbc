import { createServer, type Server } from 'node:http'
import type { AddressInfo } from 'node:net'
import { sql } from 'drizzle-orm'
import type { NumberedEvent } from '@/core/execution'
import { defectById } from '@/db/defects'
import { setting } from '@/db/settings'
import { claimWork, finishAttempt, ingestEvents } from '../dispatch'
import { startRun } from '../runs'
import {
  addAgent,
  seedFiles,
  simpleCase,
  simpleSuite,
  testContext,
  type TestContext,
} from '../testing/context'
import { MailProblem } from '../mail'
import { changeDefect, draftFrom, logDefect, sendDefect, sendNow, setTracker, TrackerProblem } from '.'

let ctx: TestContext
let tracker: Server
let attemptId: string
/** What the tracker of this test does: answers, refuses, or is slow to exist. */
let mode: 'up' | 'down' | 'odd' = 'up'
let trackerUrl: string
const tokens: (string | undefined)[] = []
const received: { key: string; title: string; body: string }[] = []

beforeAll(async () => {
  ctx = await testContext()
  await seedFiles(ctx, {
    'a.case.yaml': simpleCase('a', 'priority: high\n'),
    'one.suite.yaml': simpleSuite('one', ['a']),
  })
  tracker = createServer((request, response) => {
    if (mode === 'down') return response.writeHead(503).end()
    if (mode === 'odd') return response.writeHead(200).end('<p>Welcome</p>')
    if (request.method === 'GET') return response.writeHead(200).end('[]')
    tokens.push(request.headers.authorization)
    let text = ''
    request
      .on('data', (part) => (text += String(part)))
      .on('end', () => {
        received.push(JSON.parse(text) as (typeof received)[number])
        response
          .writeHead(201, { 'content-type': 'application/json' })
          .end(JSON.stringify({ number: 'FSF-214', state: 'open', url: 'http://tracker/FSF-214' }))
      })
  })
  await new Promise<void>((resolve) => tracker.listen(0, '127.0.0.1', resolve))
  trackerUrl = `http://127.0.0.1:${(tracker.address() as AddressInfo).port}`
  await setTracker(ctx, { url: `${trackerUrl}/` }, 'Tomas')
  const agent = await addAgent(ctx, 'one')
  await startRun(
    ctx,
    { suite: 'one', environments: ['wide'], build: '1.0', retries: 0, limitMs: 60_000 },
    'Wren',
  )
  const work = (await claimWork(ctx, agent))!
  attemptId = work.attemptId
  const words = (object: string) => ({ verb: 'click', object, detail: '' })
  const events: NumberedEvent[] = [
    {
      no: 1,
      atMs: 0,
      type: 'step-started',
      path: 'main.0',
      words: { verb: 'open', object: 'booking', detail: '/' },
    },
    {
      no: 2,
      atMs: 1,
      type: 'screen',
      path: 'main.0',
      phase: 'after',
      hash: 'a'.repeat(64),
      width: 1,
      height: 1,
    },
    { no: 3, atMs: 2, type: 'step-ended', path: 'main.0', outcome: 'passed', ms: 2 },
    { no: 4, atMs: 3, type: 'step-started', path: 'main.1', words: words('Go') },
    {
      no: 5,
      atMs: 4,
      type: 'screen',
      path: 'main.1',
      phase: 'after',
      hash: 'b'.repeat(64),
      width: 1,
      height: 1,
    },
    {
      no: 6,
      atMs: 5,
      type: 'step-ended',
      path: 'main.1',
      outcome: 'errored',
      ms: 5000,
      failure: { kind: 'target', message: 'it is covered: the point belongs to footer' },
    },
    { no: 7, atMs: 6, type: 'evidence', kind: 'video', hash: 'c'.repeat(64) },
  ]
  await ingestEvents(ctx, work, events)
  await finishAttempt(ctx, work, {
    outcome: 'errored',
    ms: 10,
    failure: { kind: 'target', message: 'it is covered', path: 'main.1' },
  })
})
afterAll(async () => {
  tracker.closeAllConnections()
  tracker.close()
  await ctx.end()
})

const words = {
  title: 'Go is covered',
  steps: '1. Open',
  expected: 'it can be clicked',
  actual: 'it is covered',
  severity: 'high' as const,
}
const log = (send: boolean, evidence: string[] = []) =>
  logDefect(ctx, { ...words, attemptId, evidence, send }, 'Wren')
const jobs = async () =>
  Number((await ctx.db.execute(sql`select count(*) from graphile_worker.jobs`)).rows[0]!.count)

test('the draft says what happened, and has its evidence', async () => {
  expect(await draftFrom(ctx, attemptId)).toMatchObject({
    title: 'A: Go is covered: the point belongs to footer',
    steps: '1. Open booking /\n2. Click Go',
    severity: 'high',
    environment: 'WIDE',
    occurs: expect.stringMatching(
      /^Failed the one time it ran on WIDE with build 1\.0\. First seen there with build 1\.0, \d{4}-\d\d-\d\d; no/,
    ) as string,
    build: '1.0',
    evidence: [
      { kind: 'screen-before', hash: 'a'.repeat(64) },
      { kind: 'screen-after', hash: 'b'.repeat(64) },
      { kind: 'video', hash: 'c'.repeat(64) },
    ],
  })
  await expect(draftFrom(ctx, '00000000-0000-0000-0000-000000000000')).rejects.toMatchObject({
    code: 'NOT_FOUND',
  })
})
test('a draft keeps only evidence of its own attempt, and is not sent', async () => {
  const defect = await log(false, ['b'.repeat(64), 'd'.repeat(64)])
  expect(defect).toMatchObject({ state: 'draft', evidence: [{ kind: 'screen-after', hash: 'b'.repeat(64) }] })
  await sendDefect(ctx, defect.id)
  expect((await defectById(ctx.db, defect.id))!.state).toBe('draft')
})
test('logged, sent, numbered; sending again does nothing', async () => {
  const before = await jobs()
  const defect = await log(true, ['b'.repeat(64)])
  expect(await jobs()).toBe(before + 1)
  await sendDefect(ctx, defect.id)
  expect(await defectById(ctx.db, defect.id)).toMatchObject({
    state: 'sent',
    trackerNumber: 'FSF-214',
    trackerState: 'open',
    sendProblem: null,
  })
  expect(received.at(-1)).toMatchObject({
    title: words.title,
    body: expect.stringContaining('Environment: WIDE\nBuild: 1.0') as string,
  })
  const sent = received.length
  await sendDefect(ctx, defect.id)
  expect(received).toHaveLength(sent)
  await expect(sendNow(ctx, defect.id, 'Wren')).rejects.toMatchObject({ code: 'CHANGED_MEANWHILE' })
})
test('a tracker that is down delays a defect and loses nothing; the same key is sent again', async () => {
  const defect = await log(true)
  mode = 'down'
  await expect(sendDefect(ctx, defect.id)).rejects.toBeInstanceOf(TrackerProblem)
  expect(await defectById(ctx.db, defect.id)).toMatchObject({
    state: 'to-send',
    sendTries: 1,
    sendProblem: 'The tracker answers 503.',
    title: words.title,
  })
  mode = 'up'
  await sendDefect(ctx, defect.id)
  expect(await defectById(ctx.db, defect.id)).toMatchObject({ state: 'sent', sendTries: 2 })
  expect(received.at(-1)!.key).toContain(`oak-defect-${defect.id}-`)
})
test('a tracker is tried before it is kept; its token is sealed, and goes with what is sent', async () => {
  mode = 'down'
  await expect(setTracker(ctx, { url: trackerUrl, token: 'low-tide' }, 'Tomas')).rejects.toMatchObject({
    code: 'TRACKER_DOWN',
  })
  mode = 'up'
  await setTracker(ctx, { url: trackerUrl, token: 'low-tide' }, 'Tomas')
  expect(JSON.stringify(await setting(ctx.db, 'tracker'))).not.toContain('low-tide')
  await sendDefect(ctx, (await log(true)).id)
  expect(tokens.at(-1)).toBe('Bearer low-tide')
  await expect(setTracker(ctx, { url: 'http://169.254.169.254' }, 'Tomas')).rejects.toMatchObject({
    code: 'OUTGOING_REFUSED',
  })
})
test('an answer without a number is no success', async () => {
  const defect = await log(true)
  mode = 'odd'
  await expect(sendDefect(ctx, defect.id)).rejects.toThrow('has no number')
  mode = 'up'
  await sendDefect(ctx, defect.id)
  expect(await defectById(ctx.db, defect.id)).toMatchObject({ state: 'sent' })
})
test('one that is mailed waits for a mail server, and says so', async () => {
  const defect = await logDefect(
    ctx,
    { ...words, attemptId, evidence: [], send: true, mailTo: 'gate@fennel-sound.invalid' },
    'Wren',
  )
  await expect(sendDefect(ctx, defect.id)).rejects.toBeInstanceOf(MailProblem)
  expect(await defectById(ctx.db, defect.id)).toMatchObject({
    state: 'to-send',
    mailTo: 'gate@fennel-sound.invalid',
    sendProblem: 'No mail server is set up.',
  })
})
test('two people edit: the second is told, and nothing is overwritten', async () => {
  const defect = await log(false)
  await changeDefect(ctx, defect.id, { ...words, title: 'First', version: 1 }, 'Wren')
  await expect(
    changeDefect(ctx, defect.id, { ...words, title: 'Second', version: 1 }, 'Joss'),
  ).rejects.toMatchObject({ code: 'CHANGED_MEANWHILE' })
  expect((await defectById(ctx.db, defect.id))!.title).toBe('First')
})

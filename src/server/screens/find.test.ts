import sharp from 'sharp'
import { sql } from 'drizzle-orm'
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
import { readerStart } from '../view-models'
import { findOnScreensOf, READ_SCREEN, readScreen, screensAskedBy } from './find'

let ctx: TestContext
let run: number
let attemptId: string
const hashes: string[] = []

/** A screen with a text on it. */
const screenOf = (text: string) =>
  sharp(
    Buffer.from(
      '<svg xmlns="http://www.w3.org/2000/svg" width="640" height="160"><rect width="100%" ' +
        'height="100%" fill="#fff"/><text x="24" y="80" font-family="sans-serif" font-size="26" ' +
        `fill="#222">${text}</text></svg>`,
    ),
  )
    .png()
    .toBuffer()

beforeAll(async () => {
  ctx = await testContext()
  await seedFiles(ctx, { 'a.case.yaml': simpleCase('a'), 'one.suite.yaml': simpleSuite('one', ['a']) })
  const agent = await addAgent(ctx, 'tolva-01')
  const how = { suite: 'one', environments: ['wide'], build: '1.0', retries: 0, limitMs: 60_000 }
  run = await startRun(ctx, how, 'Wren')
  const work = (await claimWork(ctx, agent))!
  attemptId = work.attemptId
  for (const [i, text] of ['Sailings to Skerrow', 'No sailings on this day'].entries()) {
    const bytes = await screenOf(text)
    hashes.push(hashOf(bytes))
    await keepEvidence(ctx, hashOf(bytes), 'image/png', bytes)
    const words = { verb: 'click', object: `step ${i}`, detail: '' }
    const path = `main.${i}`
    const screen = { phase: 'after', hash: hashOf(bytes), width: 640, height: 160 } as const
    await ingestEvents(ctx, work, [
      { no: 3 * i + 1, atMs: 10 * i, type: 'step-started', path, words },
      { no: 3 * i + 2, atMs: 10 * i + 5, type: 'screen', path, ...screen },
      { no: 3 * i + 3, atMs: 10 * i + 9, type: 'step-ended', path, outcome: 'passed', ms: 9 },
    ])
  }
  await finishAttempt(ctx, work, { outcome: 'passed', ms: 20 })
})
afterAll(() => ctx.end())

const waiting = async () =>
  (
    await ctx.db.execute<{ payload: { hash: string }; priority: number }>(
      sql`select payload, priority from graphile_worker._private_jobs j
        join graphile_worker._private_tasks t on t.id = j.task_id where t.identifier = ${READ_SCREEN}`,
    )
  ).rows

test('screens are read when somebody looks, once, behind everything else; then what is on them is found', async () => {
  const before = await findOnScreensOf(ctx, { run, text: 'no sailings' })
  expect(before).toMatchObject({ found: [], looked: 0, unread: 2, left: 0 })
  await findOnScreensOf(ctx, { run, text: 'no sailings' })
  const jobs = await waiting()
  expect(jobs.map(({ payload }) => payload.hash).sort()).toEqual([...hashes].sort())
  expect(jobs.every(({ priority }) => priority >= 100)).toBe(true)

  for (const hash of hashes) await readScreen(ctx, hash)
  const after = await findOnScreensOf(ctx, { run, text: 'no sailings' })
  expect(after).toMatchObject({ looked: 2, unread: 0, found: [{ hash: hashes[1], attemptId, build: '1.0' }] })
  const [box] = after.found[0]!.boxes
  expect(box!.x).toBeGreaterThan(10)
  expect(box!.x).toBeLessThan(40)
  expect((await findOnScreensOf(ctx, { caseKey: 'a', text: 'Skerrow' })).found).toMatchObject([
    { hash: hashes[0] },
  ])
  expect((await findOnScreensOf(ctx, { run: run + 1, text: 'Skerrow' })).looked).toBe(0)
}, 60_000)

test('a hit opens the reader at the step whose screen it is', async () => {
  expect((await readerStart(ctx, attemptId, { screen: hashes[1] })).first?.path).toBe('main.1')
  expect((await readerStart(ctx, attemptId, { screen: 'f'.repeat(64) })).first?.path).toBe('main.0')
})

test('what is no picture, or not kept any more, is known as such, and ends nothing', async () => {
  const bytes = Buffer.from('not a picture at all')
  await keepEvidence(ctx, hashOf(bytes), 'image/png', bytes)
  await readScreen(ctx, hashOf(bytes))
  await readScreen(ctx, '0'.repeat(64))
})

test.each(['run=1', 'text=', 'text=x', 'text=x&run=abc', `text=${'x'.repeat(300)}&run=1`])(
  '“%s” is refused',
  (query) =>
    expect(() => screensAskedBy(new URLSearchParams(query))).toThrow(
      expect.objectContaining({ code: 'BODY_INVALID' }),
    ),
)

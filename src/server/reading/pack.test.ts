import { eq } from 'drizzle-orm'
import type { NumberedEvent } from '@/core/execution'
import { LINES_PAGE } from '@/core/view-models'
import { failedChecksOfAttempt } from '@/db/failed-checks'
import { eventsOf } from '@/db/logs'
import { attemptLogs, events } from '@/db/schema'
import { claimWork, finishAttempt, ingestEvents } from '../dispatch'
import { dropOldEvidence, putRetention } from '../evidence'
import { startRun } from '../runs'
import {
  addAgent,
  laterBy,
  seedFiles,
  simpleCase,
  simpleSuite,
  testContext,
  type TestContext,
} from '../testing/context'
import { askLog, makeOpenings, packLongLogs, packOldLogs } from '.'

let ctx: TestContext
beforeEach(async () => {
  ctx = await testContext()
  await seedFiles(ctx, { 'a.case.yaml': simpleCase('a'), 'one.suite.yaml': simpleSuite('one', ['a']) })
})
afterEach(() => ctx.end())

const failure = { kind: 'check' as const, message: 'It is not', expected: 'a', actual: 'b' }
const SAID: NumberedEvent[] = [
  {
    no: 1,
    atMs: 1,
    type: 'step-started',
    path: 'main.0',
    words: { verb: 'check', object: 'fare', detail: '' },
  },
  { no: 2, atMs: 2, type: 'console', path: 'main.0', level: 'log', text: 'tide tables '.repeat(40) },
  { no: 3, atMs: 3, type: 'step-ended', path: 'main.0', outcome: 'failed', ms: 2, failure },
  {
    no: 4,
    atMs: 4,
    type: 'screen-check',
    path: 'main.0',
    name: 'deck',
    result: 'same',
    hash: 'a'.repeat(64),
    width: 8,
    height: 6,
  },
  {
    no: 5,
    atMs: 5,
    type: 'step-started',
    path: 'main.1',
    words: { verb: 'click', object: 'Go', detail: '' },
  },
  { no: 6, atMs: 6, type: 'step-ended', path: 'main.1', outcome: 'passed', ms: 1 },
]

/** @returns the id of an attempt that said this; ended unless told otherwise */
async function attempt(said = SAID, ends = true): Promise<string> {
  const agent = await addAgent(ctx, 'tolva-01', 4)
  await startRun(
    ctx,
    { suite: 'one', environments: ['wide'], build: '1.0', retries: 0, limitMs: 60_000 },
    'Wren',
  )
  const work = (await claimWork(ctx, agent))!
  const hold = { agentId: agent.id, attemptId: work.attemptId, lease: work.lease }
  await ingestEvents(ctx, hold, said)
  if (ends) await finishAttempt(ctx, hold, { outcome: 'failed', ms: 9, failure })
  return work.attemptId
}
const rows = async (id: string) =>
  (await ctx.db.select({ no: events.no }).from(events).where(eq(events.attemptId, id)))
    .map(({ no }) => no)
    .sort()
const hourLater = () => laterBy(ctx, 3_600_000)

test('a log is one piece a while after its end; what is asked of runs stays in rows, and nothing is lost', async () => {
  const [id, open] = [await attempt(), await attempt(SAID, false)]
  const before = await askLog(ctx, id, { ask: 'all' })
  expect(await packOldLogs(ctx)).toBe(0) // it has only just ended
  expect(await packOldLogs(hourLater())).toBe(1)
  expect(await packOldLogs(hourLater())).toBe(0)
  expect(await rows(id)).toEqual([3, 4])
  expect(await rows(open)).toEqual([1, 2, 3, 4, 5, 6])
  expect(await eventsOf(ctx.db, id)).toEqual(SAID)
  expect(await askLog(ctx, id, { ask: 'all' })).toEqual(before)
  expect(await failedChecksOfAttempt(ctx.db, id)).toMatchObject([{ path: 'main.0', actual: 'b' }])
})

test('a step that passed when it was tried again is no failed check then, either', async () => {
  const again: NumberedEvent[] = [
    ...SAID,
    { no: 7, atMs: 7, type: 'step-ended', path: 'main.0', outcome: 'passed', ms: 2 },
  ]
  const id = await attempt(again)
  expect(await failedChecksOfAttempt(ctx.db, id)).toEqual([])
  await packOldLogs(hourLater())
  expect(await failedChecksOfAttempt(ctx.db, id)).toEqual([])
})

test('what is kept no longer goes out of the piece, too', async () => {
  const id = await attempt()
  await packOldLogs(hourLater())
  await putRetention(ctx, { console: 30 }, 'Tomas')
  await dropOldEvidence(laterBy(ctx, 40 * 86_400_000))
  expect((await eventsOf(ctx.db, id)).map(({ no }) => no)).toEqual([1, 3, 4, 5, 6])
  expect(
    (await askLog(ctx, id, { ask: 'line', path: 'main.0', fold: false, only: null }))!.line.console,
  ).toEqual([])
})

test('a large log takes a fraction of its size, and so do many small ones at once', async () => {
  const many = Array.from({ length: 500 }, (_, i): NumberedEvent => ({
    no: i + 1,
    atMs: i,
    type: 'console',
    path: 'main.0',
    level: 'log',
    text: `line ${i} of the tide tables`,
  }))
  const large = await attempt(many)
  const small = [await attempt(), await attempt([]), await attempt()]
  expect(await packOldLogs(hourLater())).toBe(4)
  const [piece] = await ctx.db.select().from(attemptLogs).where(eq(attemptLogs.attemptId, large))
  expect(piece!.piece.length).toBeLessThan(JSON.stringify(many).length / 8)
  for (const id of small)
    expect(await rows(id)).toHaveLength((await eventsOf(ctx.db, id)).length === 0 ? 0 : 2)
})

const longLog = (): NumberedEvent[] =>
  Array.from({ length: 4500 }, (_, i): NumberedEvent[] => {
    const path = `main.${i}`
    const words = { verb: 'check', object: `crossing ${i}`, detail: '' }
    return [
      { no: 2 * i + 1, atMs: i, type: 'step-started', path, words },
      { no: 2 * i + 2, atMs: i, type: 'console', path, level: 'log', text: `tide ${i}` },
    ]
  }).flat()

test('a long log is one piece as soon as its attempt has ended; short ones, and those that go on, wait', async () => {
  const [long, short, open] = [await attempt(longLog()), await attempt(), await attempt(longLog(), false)]
  expect(await packLongLogs(ctx)).toBe(1)
  expect([await rows(long), (await rows(short)).length, (await rows(open)).length]).toEqual([[], 6, 9000])
  expect(await eventsOf(ctx.db, long)).toEqual(longLog())
  expect(await packLongLogs(ctx)).toBe(0)
})

test('a long log that nobody packed when its attempt had ended is packed with all others', async () => {
  await attempt(longLog())
  expect(await packLongLogs(laterBy(ctx, 60_000))).toBe(0)
  expect(await packOldLogs(hourLater())).toBe(1)
})

test('a long log opens by what is kept beside it, until something is taken out of it', async () => {
  const many = longLog()
  const [long, short] = [await attempt(many), await attempt()]
  const opened = async (in_: TestContext) => {
    const head = await askLog(in_, long, { ask: 'head' })
    const all = { fold: false, only: null } as const
    const line = (await askLog(in_, long, { ask: 'line', path: head.start!, ...all }))!
    const from = Math.floor(line.index / LINES_PAGE) * LINES_PAGE
    const around = await askLog(in_, long, { ask: 'window', from, count: LINES_PAGE, find: '', ...all })
    return { head, line, around }
  }
  const before = await opened(ctx)
  await packOldLogs(hourLater())
  expect([await makeOpenings(ctx), await makeOpenings(ctx)]).toEqual([1, 0])

  const forgotten: TestContext = { ...ctx, work: { run: async () => ({ missing: true }) as never } }
  expect(await opened(forgotten)).toEqual(before)
  await expect(
    askLog(forgotten, long, { ask: 'hits', find: 'tide', fold: false, only: null }),
  ).rejects.toThrow()
  await expect(askLog(forgotten, short, { ask: 'head' })).rejects.toThrow()

  await putRetention(ctx, { console: 30 }, 'Tomas')
  await dropOldEvidence(laterBy(ctx, 40 * 86_400_000))
  await expect(opened(forgotten)).rejects.toThrow()
  expect(await makeOpenings(ctx)).toBe(1)
  expect((await opened(forgotten)).line.line.console).toEqual([])
})

test('a log that cannot be read keeps nobody from what is kept of the others', async () => {
  const [broken, sound] = [await attempt(longLog()), await attempt(longLog())]
  await packOldLogs(hourLater())
  await ctx.db
    .update(attemptLogs)
    .set({ piece: Buffer.from('torn') })
    .where(eq(attemptLogs.attemptId, broken))
  expect(await makeOpenings(ctx)).toBe(1)
  const [row] = await ctx.db.select().from(attemptLogs).where(eq(attemptLogs.attemptId, sound))
  expect(row!.opening).not.toBeNull()
})

import { eq, sql } from 'drizzle-orm'
import { addDefect } from '@/db/defects'
import { evidenceRow } from '@/db/evidence'
import { eventsOf } from '@/db/logs'
import { attemptRow } from '@/db/runs'
import { attempts, defects, evidence } from '@/db/schema'
import type { Context } from '../context'
import { claimWork, finishAttempt, ingestEvents } from '../dispatch'
import { startRotation } from '../rota'
import {
  addAgent,
  seedFiles,
  simpleCase,
  simpleSuite,
  testContext,
  type TestContext,
  laterBy,
} from '../testing/context'
import { dropOldEvidence, keepEvidence, missingEvidence, pinAttempt, putRetention } from '.'
import { PROBLEMS } from '../http/problems'
import { hashOf } from './store'

let ctx: TestContext
const rotation = (key: string, how: string) =>
  `rotation: ${key}\ntitle: ${key}\nwhat: [{ suite: one }]\nwhere: { environments: [wide] }\nhow: ${how}\n`
const inDays = (days: number): Context => laterBy(ctx, days * 86_400_000)

beforeAll(async () => {
  ctx = await testContext()
  await seedFiles(ctx, {
    'a.case.yaml': simpleCase('a'),
    'one.suite.yaml': simpleSuite('one', ['a']),
    'usual.rotation.yaml': rotation('usual', '{}'),
    'brief.rotation.yaml': rotation('brief', '{ keep: { screens: 2, console: 2 } }'),
  })
})
afterAll(() => ctx.end())
beforeEach(
  async () => void (await ctx.db.execute(sql`truncate runs, agents, evidence, defects, settings cascade`)),
)

/** One attempt of a rotation that shows a screen and a video, and says two things. */
async function attemptOf(key: string, screen: string): Promise<string> {
  const agent = await addAgent(ctx, `agent of ${key}`)
  await startRotation(ctx, key, {}, 'Wren')
  const work = (await claimWork(ctx, agent))!
  const piece = async (mime: string, text: string) => {
    const bytes = Buffer.from(text)
    await keepEvidence(ctx, hashOf(bytes), mime, bytes)
    return hashOf(bytes)
  }
  await ingestEvents(ctx, work, [
    {
      no: 1,
      atMs: 1,
      type: 'screen',
      path: 'main.0',
      phase: 'after',
      hash: await piece('image/jpeg', screen),
      width: 10,
      height: 10,
    },
    { no: 2, atMs: 2, type: 'console', path: 'main.0', level: 'error', text: 'no tide table' },
    {
      no: 3,
      atMs: 3,
      type: 'request',
      path: 'main.0',
      method: 'GET',
      url: 'http://127.0.0.1:9/',
      status: 200,
      ms: 3,
    },
    { no: 4, atMs: 4, type: 'evidence', kind: 'video', hash: await piece('video/webm', `video of ${key}`) },
    { no: 5, atMs: 5, type: 'note', text: 'the end' },
  ])
  await finishAttempt(ctx, work, { outcome: 'passed', ms: 5 })
  return work.attemptId
}
const types = async (attempt: string) => (await eventsOf(ctx.db, attempt)).map(({ type }) => type)
const has = async (text: string) => [
  (await evidenceRow(ctx.db, hashOf(Buffer.from(text)))) !== undefined,
  (await ctx.evidence.size(hashOf(Buffer.from(text)))) !== undefined,
]

test('for ever, unless somebody says otherwise', async () => {
  const attempt = await attemptOf('usual', 'a screen')
  expect(await dropOldEvidence(inDays(3000))).toEqual({ attempts: 0, files: 0 })
  expect(await types(attempt)).toHaveLength(5)
})

test('what somebody pinned stays, until it is let go', async () => {
  const attempt = await attemptOf('usual', 'a pinned screen')
  await putRetention(ctx, { screens: 30 }, 'Tomas')
  await pinAttempt(ctx, attempt, true, 'Wren')
  expect((await attemptRow(ctx.db, attempt))!.pinnedBy).toBe('Wren')
  expect(await dropOldEvidence(inDays(40))).toEqual({ attempts: 0, files: 0 })
  expect(await has('a pinned screen')).toEqual([true, true])
  await pinAttempt(ctx, attempt, false, 'Wren')
  expect(await dropOldEvidence(inDays(40))).toEqual({ attempts: 1, files: 1 })
  expect(await has('a pinned screen')).toEqual([false, false])
  await expect(pinAttempt(ctx, '4f1c0d3e-0000-4000-8000-000000000001', true, 'Wren')).rejects.toMatchObject({
    code: 'NOT_FOUND',
  })
})

test('a rotation’s days count before the workspace’s; the log itself stays', async () => {
  const [usual, brief] = [
    await attemptOf('usual', 'screen of usual'),
    await attemptOf('brief', 'screen of brief'),
  ]
  await putRetention(ctx, { screens: 30, network: 30 }, 'Tomas')
  expect(await dropOldEvidence(inDays(1))).toEqual({ attempts: 0, files: 0 })
  expect(await dropOldEvidence(inDays(8))).toEqual({ attempts: 2, files: 1 })
  expect([
    await types(brief),
    (await attemptRow(ctx.db, brief))!.dropped,
    (await attemptRow(ctx.db, brief))!.screen,
  ]).toEqual([['request', 'evidence', 'note'], ['screens', 'console'], null])
  expect([await has('screen of brief'), await has('screen of usual'), await has('video of brief')]).toEqual([
    [false, false],
    [true, true],
    [true, true],
  ])
  expect(await types(usual)).toHaveLength(5)
  await dropOldEvidence(inDays(31))
  expect([await types(usual), await has('screen of usual')]).toEqual([
    ['console', 'evidence', 'note'],
    [false, false],
  ])
  expect(await dropOldEvidence(inDays(31))).toEqual({ attempts: 0, files: 0 })
})

test('a piece stays while any attempt or defect shows it, or an agent just asked for it', async () => {
  const [usual, brief] = [
    await attemptOf('usual', 'the same screen'),
    await attemptOf('brief', 'the same screen'),
  ]
  await dropOldEvidence(inDays(8))
  expect([(await attemptRow(ctx.db, brief))!.dropped, await has('the same screen')]).toEqual([
    ['screens', 'console'],
    [true, true],
  ])
  const hash = hashOf(Buffer.from('the same screen'))
  const facts = {
    steps: '',
    expected: '',
    actual: '',
    severity: 'normal' as const,
    environment: 'wide',
    build: '1.0',
    caseKey: 'a',
    runId: 1,
    createdBy: 'Wren',
  }
  await addDefect(
    ctx.db,
    { ...facts, title: 'shows it', attemptId: null, evidence: [{ kind: 'screen-after', hash }] },
    ctx.now,
  )
  await ctx.db.delete(attempts).where(eq(attempts.id, usual)) // as when a rehearsal goes
  await dropOldEvidence(inDays(8))
  expect(await has('the same screen')).toEqual([true, true])
  await ctx.db.delete(defects)
  await ctx.db
    .update(evidence)
    .set({ seenAt: sql`now() + interval '7 days'` })
    .where(eq(evidence.hash, hash))
  expect(await missingEvidence(ctx, [hash, 'f'.repeat(64)])).toEqual(['f'.repeat(64)])
  await ctx.db.update(evidence).set({ seenAt: sql`now() + interval '2 days'` })
  await dropOldEvidence(inDays(8))
  expect(await has('the same screen')).toEqual([true, true])
  await dropOldEvidence(inDays(10))
  expect(await has('the same screen')).toEqual([false, false])
})

test('what a defect was logged from keeps all of it', async () => {
  const attempt = await attemptOf('brief', 'a failing screen')
  await addDefect(
    ctx.db,
    {
      title: 'stays',
      steps: '',
      expected: '',
      actual: '',
      severity: 'normal',
      environment: 'wide',
      build: '1.0',
      caseKey: 'a',
      runId: 1,
      createdBy: 'Wren',
      attemptId: attempt,
      evidence: [],
    },
    ctx.now,
  )
  expect(await dropOldEvidence(inDays(300))).toEqual({ attempts: 0, files: 0 })
  expect(await types(attempt)).toHaveLength(5)
})

test('two workers at once delete each once', async () => {
  await attemptOf('brief', 'one')
  const done = await Promise.all([dropOldEvidence(inDays(8)), dropOldEvidence(inDays(8))])
  expect(done.map(({ attempts: n }) => n).reduce((sum, n) => sum + n, 0)).toBe(2)
  expect(await dropOldEvidence(inDays(8))).toMatchObject({ attempts: 0 })
})

test('days that are none are refused by the schema', async () => {
  const { retentionBody } = await import('.')
  for (const wrong of [{ screens: 0 }, { screens: 1.5 }, { video: 4000 }, { smells: 3 }, { video: '3' }])
    expect(retentionBody(wrong)).toBe(false)
  expect(retentionBody({ screens: 1, network: 3650 })).toBe(true)
})

describe('while files are deleted', () => {
  const hash = hashOf(Buffer.from('old screen'))
  /** The store of files, with something that happens before each is put aside. */
  const before = (happens: () => Promise<unknown>): Context => ({
    ...inDays(8),
    evidence: {
      ...ctx.evidence,
      putAside: async (one) => {
        await happens()
        await ctx.evidence.putAside(one)
      },
    },
  })
  const bringAgain = () => keepEvidence(ctx, hash, 'image/jpeg', Buffer.from('old screen'))
  beforeEach(async () => {
    const attempt = await attemptOf('brief', 'old screen')
    await ctx.db.delete(attempts).where(eq(attempts.id, attempt))
  })

  test('no row is locked', async () => {
    const lock = () => ctx.db.execute(sql`select from evidence where hash = ${hash} for update nowait`)
    expect(await dropOldEvidence(before(lock))).toMatchObject({ files: 2 })
    expect(await has('old screen')).toEqual([false, false])
  })

  test('a piece that an agent brings again meanwhile stays, with its file', async () => {
    expect(await dropOldEvidence(before(bringAgain))).toMatchObject({ files: 1 })
    expect(await has('old screen')).toEqual([true, true])
    expect(await missingEvidence(ctx, [hash])).toEqual([])
  })

  test('one that is being deleted counts as missing: agents send it', async () => {
    const missing: string[][] = []
    await dropOldEvidence(before(async () => missing.push(await missingEvidence(ctx, [hash]))))
    expect(missing[0]).toEqual([hash])
  })

  test('what a fallen worker left is taken up by the next', async () => {
    const falls = before(() => Promise.reject(new Error('killed')))
    await expect(dropOldEvidence(falls)).rejects.toThrow('killed')
    expect(await has('old screen')).toEqual([true, true])
    expect(await dropOldEvidence(inDays(8))).toMatchObject({ files: 2 })
    expect(await has('old screen')).toEqual([false, false])
  })

  test('and brought again after the fall, it is there', async () => {
    const falls = before(() => Promise.reject(new Error('killed')))
    await expect(dropOldEvidence(falls)).rejects.toThrow('killed')
    await ctx.evidence.putAside(hash) // it fell a moment later
    await bringAgain()
    await ctx.db.update(evidence).set({ seenAt: sql`now() + interval '8 days'` })
    expect(await dropOldEvidence(inDays(8))).toMatchObject({ files: 0 })
    expect(await has('old screen')).toEqual([true, true])
  })
})

describe('the folder itself is in trouble', () => {
  const failing = (code: string): Context => ({
    ...ctx,
    evidence: { ...ctx.evidence, put: () => Promise.reject(Object.assign(new Error(code), { code })) },
  })
  const bytes = Buffer.from('a screen for which there is no room')
  test.each([
    ['ENOSPC', 'STORE_FULL', 507],
    ['EDQUOT', 'STORE_FULL', 507],
    ['EROFS', 'STORE_AWAY', 503],
    ['EACCES', 'STORE_AWAY', 503],
  ])(
    '%s: said clearly, nothing is promised, and the same bytes are taken later',
    async (code, problem, status) => {
      await expect(keepEvidence(failing(code), hashOf(bytes), 'image/png', bytes)).rejects.toMatchObject({
        code: problem,
      })
      // above 499: an agent keeps the bytes and tries again
      expect(PROBLEMS[problem as 'STORE_FULL'].status).toBe(status)
      expect(await missingEvidence(ctx, [hashOf(bytes)])).toEqual([hashOf(bytes)])
      await keepEvidence(ctx, hashOf(bytes), 'image/png', bytes)
      expect(await missingEvidence(ctx, [hashOf(bytes)])).toEqual([])
    },
  )
})

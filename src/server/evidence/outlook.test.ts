import { Readable } from 'node:stream'
import { sql } from 'drizzle-orm'
import { addDefect } from '@/db/defects'
import { claimWork, finishAttempt, ingestEvents } from '../dispatch'
import { startRotation } from '../rota'
import {
  addAgent,
  laterBy,
  seedFiles,
  simpleCase,
  simpleSuite,
  testContext,
  type TestContext,
} from '../testing/context'
import {
  dropOldEvidence,
  keepEvidence,
  pinAttempt,
  putQuota,
  putRetention,
  quotaWarning,
  receiveEvidence,
  retentionOutlook,
} from '.'
import { hashOf } from './store'

let ctx: TestContext
const rotation = (key: string, how: string) =>
  `rotation: ${key}\ntitle: ${key}\nwhat: [{ suite: one }]\nwhere: { environments: [wide] }\nhow: ${how}\n`
beforeAll(async () => {
  ctx = await testContext()
  await seedFiles(ctx, {
    'a.case.yaml': simpleCase('a'),
    'one.suite.yaml': simpleSuite('one', ['a']),
    'usual.rotation.yaml': rotation('usual', '{}'),
    'brief.rotation.yaml': rotation('brief', '{ keep: { screens: 16 } }'),
  })
})
afterAll(() => ctx.end())
beforeEach(async () => {
  await ctx.db.execute(sql`truncate runs, agents, evidence, defects, settings cascade`)
})

async function attemptWith(key: string, text: string): Promise<string> {
  const agent = await addAgent(ctx, `${key} ${text}`)
  await startRotation(ctx, key, {}, 'Wren')
  const work = (await claimWork(ctx, agent))!
  const bytes = Buffer.from(text)
  await keepEvidence(ctx, hashOf(bytes), 'image/png', bytes)
  const screen = { path: 'main.0', phase: 'after', hash: hashOf(bytes), width: 1, height: 1 } as const
  await ingestEvents(ctx, work, [{ no: 1, atMs: 1, type: 'screen', ...screen }])
  await finishAttempt(ctx, work, { outcome: 'passed', ms: 5 })
  return work.attemptId
}

test('a piece goes with the last attempt that shows it; what is pinned, of a defect or for ever stays', async () => {
  await putRetention(ctx, { screens: 30 }, 'Tomas')
  await attemptWith('usual', 'thirty days') // 11 bytes, week 4
  await attemptWith('brief', 'sixteen days') // 12 bytes, week 2
  await attemptWith('brief', 'of both')
  await attemptWith('usual', 'of both') // 7 bytes, with the later of the two
  await pinAttempt(ctx, await attemptWith('usual', 'pinned'), true, 'Wren')
  const { weeks, later, never, kinds, pieces, bytes } = await retentionOutlook(ctx)
  expect(weeks.map((week) => week.bytes)).toEqual([0, 0, 12, 0, 18, 0, 0, 0, 0, 0, 0, 0])
  expect([later.bytes, never]).toEqual([0, { pieces: 1, bytes: 6 }])
  expect(kinds).toEqual([{ kind: 'screens', pieces: 4, bytes: 36 }])
  expect([pieces, bytes]).toEqual([4, 36])
})

test('what is foretold is what happens', async () => {
  await putRetention(ctx, { screens: 30 }, 'Tomas')
  await attemptWith('usual', 'thirty days')
  const held = await attemptWith('brief', 'of a defect')
  await attemptWith('brief', 'sixteen days')
  const facts = {
    steps: '',
    expected: '',
    actual: '',
    environment: 'wide',
    build: '1',
    caseKey: 'a',
    runId: 1,
  }
  const evidence = [{ kind: 'screen-after' as const, hash: hashOf(Buffer.from('of a defect')) }]
  await addDefect(
    ctx.db,
    { ...facts, title: 'held', severity: 'normal', createdBy: 'Wren', attemptId: held, evidence },
    ctx.now,
  )
  const { weeks, never } = await retentionOutlook(ctx)
  const gone: number[] = []
  for (let week = 0; week < 6; week++)
    gone.push((await dropOldEvidence(laterBy(ctx, (week + 1) * 7 * 86_400_000))).files)
  expect(gone).toEqual(weeks.slice(0, 6).map((week) => week.pieces))
  expect(never.pieces).toBe(1)
})

test('with nothing kept, and for ever', async () => {
  expect(await retentionOutlook(ctx)).toMatchObject({ pieces: 0, never: { pieces: 0 }, quotaGb: null })
  await attemptWith('usual', 'for ever')
  expect((await retentionOutlook(ctx)).never.pieces).toBe(1)
})

test('the quota is told before it is reached; then agents keep theirs', async () => {
  const bytes = Buffer.alloc(850, 'x')
  const receive = (text: Buffer) => receiveEvidence(ctx, hashOf(text), 'text/plain', Readable.from([text]))
  await receive(bytes)
  expect(await quotaWarning(ctx)).toBeUndefined()
  await putQuota(ctx, { gigabytes: 1e-6 }, 'Tomas') // a thousand bytes
  expect(await quotaWarning(ctx)).toBeCloseTo(0.85)
  await receive(Buffer.alloc(200, 'y'))
  await putQuota(ctx, { gigabytes: 1e-6 }, 'Tomas') // what was known of it is forgotten
  expect(await quotaWarning(ctx)).toBeGreaterThan(1)
  await expect(receive(Buffer.alloc(10, 'z'))).rejects.toMatchObject({ code: 'STORE_FULL' })
  await putQuota(ctx, { gigabytes: null }, 'Tomas')
  await receive(Buffer.alloc(10, 'z'))
  expect(await quotaWarning(ctx)).toBeUndefined()
})

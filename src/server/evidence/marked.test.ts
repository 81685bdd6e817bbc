import sharp from 'sharp'
import { evidenceRow } from '@/db/evidence'
import { markedOf } from '@/db/marked-screens'
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
import { attemptViewModel } from '../view-models'
import { dropOldEvidence, keepEvidence, markScreen, unmarkScreen, pieceOf } from '.'
import { hashOf } from './store'

let ctx: TestContext
let attempt: string
let original: string
const picture = (fill: string, width = 64) =>
  sharp({ create: { width, height: 40, channels: 3, background: fill } }).png()

beforeAll(async () => {
  ctx = await testContext()
  await seedFiles(ctx, {
    'a.case.yaml': simpleCase('a'),
    'one.suite.yaml': simpleSuite('one', ['a']),
    'brief.rotation.yaml':
      'rotation: brief\ntitle: Brief\nwhat: [{ suite: one }]\nwhere: { environments: [wide] }\nhow: { ' +
      'keep: { screens: 2 } }\n',
  })
  const agent = await addAgent(ctx, 'one')
  await startRotation(ctx, 'brief', {}, 'Wren')
  const work = (await claimWork(ctx, agent))!
  const bytes = await picture('#2b6f5c').toBuffer()
  original = hashOf(bytes)
  await keepEvidence(ctx, original, 'image/png', bytes)
  const screen = { path: 'main.0', phase: 'after', hash: original, width: 64, height: 40 } as const
  await ingestEvents(ctx, work, [{ no: 1, atMs: 1, type: 'screen', ...screen }])
  await finishAttempt(ctx, work, { outcome: 'passed', ms: 5 })
  attempt = work.attemptId
})
afterAll(() => ctx.end())

const marked = async (fill: string) => (await picture(fill).toBuffer()).toString('base64')
const mark = (bytes: string, of = original, on = attempt) =>
  markScreen(ctx, on, { path: 'main.0', original: of, bytes, note: 'The fare is cut off' }, 'Priya')

test('a marked screen is new evidence beside the original; it holds pixels and nothing else', async () => {
  const secret = 'written into the file by a program'
  const bytes = await picture('#b04a3a')
    .withExif({ IFD0: { ImageDescription: secret } })
    .toBuffer()
  expect(bytes.includes(secret)).toBe(true)
  const { id, hash } = await mark(bytes.toString('base64'))
  const kept = (await pieceOf(ctx, hash))!
  expect(kept.mime).toBe('image/png')
  expect(kept.bytes.includes(secret)).toBe(false)
  expect((await attemptViewModel(ctx, attempt)).marked).toMatchObject([
    { id, hash, original, note: 'The fare is cut off', markedBy: 'Priya', width: 64, height: 40 },
  ])
  expect(await pieceOf(ctx, original)).toBeDefined()
  await unmarkScreen(ctx, attempt, id, 'Priya')
  expect(await markedOf(ctx.db, attempt)).toEqual([])
  await expect(unmarkScreen(ctx, attempt, id, 'Priya')).rejects.toMatchObject({ code: 'NOT_FOUND' })
})

test.each([
  ['text', () => Buffer.from('no picture').toString('base64'), /it is no PNG/],
  ['nothing', () => '', /it is empty/],
  [
    'far too many pixels',
    async () => (await picture('#fff', 400_000).toBuffer()).toString('base64'),
    /pixels/,
  ],
  ['a piece that is cut off', async () => (await marked('#123')).slice(0, 80), /cannot be kept: it is/],
])('of %s is told what is wrong, and nothing is kept', async (_, bytes, why) => {
  await expect(mark(await bytes())).rejects.toMatchObject({
    code: 'BODY_INVALID',
    message: expect.stringMatching(why),
  })
  expect(await markedOf(ctx.db, attempt)).toEqual([])
})

test('only a screen of this attempt is marked, and an attempt that is there', async () => {
  const other = await picture('#abc').toBuffer()
  await keepEvidence(ctx, hashOf(other), 'image/png', other)
  const bytes = await marked('#b04a3a')
  await expect(mark(bytes, hashOf(other))).rejects.toMatchObject({ code: 'BODY_INVALID' })
  await expect(mark(bytes, original, '4f1c0d3e-0000-4000-8000-000000000001')).rejects.toMatchObject({
    code: 'NOT_FOUND',
  })
})

test('marked screens go when the screens of the attempt go', async () => {
  const { hash } = await mark(await marked('#b04a3a'))
  await dropOldEvidence(laterBy(ctx, 10 * 86_400_000))
  expect(await markedOf(ctx.db, attempt)).toEqual([])
  expect([await evidenceRow(ctx.db, hash), await evidenceRow(ctx.db, original)]).toEqual([
    undefined,
    undefined,
  ])
})

import sharp from 'sharp'
import type { ScreenCheck } from '@/core/execution'
import { claimWork, finishAttempt, ingestEvents } from '../dispatch'
import { dropOldEvidence, keepEvidence, pieceOf, putRetention } from '../evidence'
import { hashOf } from '../evidence/store'
import { startRun } from '../runs'
import { addAgent, laterBy, seedFiles, simpleSuite, testContext, type TestContext } from '../testing/context'
import { acceptAgain, acceptedHistory, acceptScreens, endAcceptedScreen } from '.'

const CASE = (key: string) =>
  `case: ${key}\ntitle: ${key}\nsteps:\n  - open: booking:/\n  - check: { screen: deck-plan }\n`
let ctx: TestContext
beforeEach(async () => {
  ctx = await testContext()
  await seedFiles(ctx, {
    'a.case.yaml': CASE('a'),
    'b.case.yaml': CASE('b'),
    'one.suite.yaml': simpleSuite('one', ['a', 'b']),
  })
  await addAgent(ctx, 'tolva-01', 4)
})
afterEach(() => ctx.end())

/** A picture of one colour, with a box of another in its corner. */
async function pictureOf(colour: string, corner = colour): Promise<string> {
  const box = await sharp({ create: { width: 4, height: 4, channels: 3, background: corner } })
    .png()
    .toBuffer()
  const png = await sharp({ create: { width: 20, height: 10, channels: 3, background: colour } })
    .composite([{ input: box, left: 0, top: 0 }])
    .png()
    .toBuffer()
  await keepEvidence(ctx, hashOf(png), 'image/png', png)
  return hashOf(png)
}
const colourAt = async (hash: string, left: number, top: number) => {
  const { bytes } = (await pieceOf(ctx, hash))!
  const { data } = await sharp(bytes)
    .extract({ left, top, width: 1, height: 1 })
    .raw()
    .toBuffer({ resolveWithObject: true })
  return [...data.subarray(0, 3)]
}

/** A run in which every case says this of its screen. @returns attempts by "case environment", and what each
 * was given to compare with */
async function runSaying(check: (name: string) => Partial<ScreenCheck> & { hash: string }) {
  const agent = await addAgent(ctx, 'tolva-01', 4)
  await startRun(
    ctx,
    { suite: 'one', environments: ['wide', 'narrow'], build: '1.0', retries: 0, limitMs: 60_000 },
    'Wren',
  )
  const attempts: Record<string, string> = {}
  const given: Record<string, unknown> = {}
  for (let i = 0; i < 4; i++) {
    const work = (await claimWork(ctx, agent))!
    const name = `${work.case.key} ${work.environment.key}`
    attempts[name] = work.attemptId
    given[name] = work.screens?.['deck-plan']
    const hold = { agentId: agent.id, attemptId: work.attemptId, lease: work.lease }
    const said = { name: 'deck-plan', result: 'proposed' as const, width: 20, height: 10, ...check(name) }
    await ingestEvents(ctx, hold, [{ no: 1, atMs: 1, type: 'screen-check', path: 'main.1', ...said }])
    await finishAttempt(ctx, hold, { outcome: 'passed', ms: 5 })
  }
  return { attempts, given }
}
const place = { caseKey: 'a', name: 'deck-plan', environment: 'wide' }

test('what was accepted goes with the next attempt; another environment falls back on it, and is told', async () => {
  const hash = await pictureOf('#2b6f5c')
  const { attempts, given } = await runSaying(() => ({ hash }))
  expect(Object.values(given).every((one) => one === undefined)).toBe(true)
  const accepted = await acceptScreens(
    ctx,
    { attemptId: attempts['a wide']!, path: 'main.1', which: 'one' },
    'Priya',
  )
  expect(accepted).toMatchObject([{ ...place, before: null }])
  const next = await runSaying(() => ({ hash, result: 'same' }))
  expect(next.given['a wide']).toMatchObject({ hash, most: 0, ignore: [] })
  expect(next.given['a wide']).not.toHaveProperty('from')
  expect(next.given['a narrow']).toMatchObject({ hash, from: 'WIDE' })
  expect(next.given['b wide']).toBeUndefined()
})

test('all that differ in the same way are accepted at once, and no others', async () => {
  const hash = await pictureOf('#2b6f5c')
  const moved = { x: 1, y: 1, w: 4, h: 4, pixels: 16, kind: 'moved' as const, dx: 0, dy: 12 }
  const { attempts } = await runSaying((name) => ({
    hash,
    result: 'differs',
    accepted: hash,
    regions: [name === 'b narrow' ? { ...moved, dy: 40 } : { ...moved, x: name.length }],
  }))
  const asked = { attemptId: attempts['a wide']!, path: 'main.1', which: 'alike' as const }
  expect(
    (await acceptScreens(ctx, asked, 'Priya'))
      .map(({ caseKey, environment }) => `${caseKey} ${environment}`)
      .sort(),
  ).toEqual(['a narrow', 'a wide', 'b wide'])
})

test('a part of it is put over what was accepted before', async () => {
  const [before, now] = [await pictureOf('#000000'), await pictureOf('#ffffff')]
  const { attempts } = await runSaying(() => ({ hash: now, result: 'differs', accepted: before }))
  const asked = { attemptId: attempts['a wide']!, path: 'main.1', which: 'one' as const }
  await acceptScreens(ctx, { ...asked, region: { x: 2, y: 2, w: 5, h: 5 } }, 'Priya')
  const [line] = await acceptedHistory(ctx, place)
  expect(await colourAt(line!.hash, 3, 3)).toEqual([255, 255, 255])
  expect(await colourAt(line!.hash, 0, 0)).toEqual([0, 0, 0])
  await expect(
    acceptScreens(ctx, { ...asked, region: { x: 18, y: 0, w: 5, h: 5 } }, 'Priya'),
  ).rejects.toMatchObject({
    code: 'BODY_INVALID',
  })
})

test('what is no picture, or far too large, is told in words when a part of it is accepted', async () => {
  const good = await pictureOf('#2b6f5c')
  const huge = await sharp({ create: { width: 6000, height: 2000, channels: 3, background: '#fff' } })
    .png()
    .toBuffer()
  const broken = Buffer.from('no picture')
  for (const bytes of [huge, broken]) {
    await keepEvidence(ctx, hashOf(bytes), 'image/png', bytes)
    const { attempts } = await runSaying(() => ({ hash: hashOf(bytes), result: 'differs', accepted: good }))
    const asked = { attemptId: attempts['a wide']!, path: 'main.1', which: 'one' as const }
    await expect(
      acceptScreens(ctx, { ...asked, region: { x: 0, y: 0, w: 4, h: 4 } }, 'Priya'),
    ).rejects.toMatchObject({
      code: 'BODY_INVALID',
      message: expect.stringMatching(/^The part cannot be accepted/),
    })
  }
})

test('who accepted what stays, comes back, and is left out or allowed for by lines of its own', async () => {
  const [first, second] = [await pictureOf('#000000'), await pictureOf('#ffffff')]
  const one = await runSaying(() => ({ hash: first }))
  const asked = { path: 'main.1', which: 'one' as const }
  await acceptScreens(ctx, { ...asked, attemptId: one.attempts['a wide']! }, 'Priya')
  const [held] = await acceptedHistory(ctx, place)
  await acceptAgain(ctx, held!.id, { ignore: [{ x: 0, y: 0, w: 2, h: 2 }], most: 0.01 }, 'Priya')
  const two = await runSaying(() => ({ hash: second, result: 'differs', accepted: first }))
  expect(two.given['a wide']).toMatchObject({
    ignore: [{ x: 0, y: 0, w: 2, h: 2 }],
    most: expect.closeTo(0.01) as number,
  })
  await acceptScreens(ctx, { ...asked, attemptId: two.attempts['a wide']! }, 'Joss')
  const lines = await acceptedHistory(ctx, place)
  expect(
    lines.map(({ acceptedBy, hash, holds, ignore }) => [acceptedBy, hash, holds, ignore.length]),
  ).toEqual([
    ['Joss', second, true, 1],
    ['Priya', first, false, 1],
    ['Priya', first, false, 0],
  ])
  await acceptAgain(ctx, lines[2]!.id, {}, 'Wren')
  expect((await acceptedHistory(ctx, place))[0]).toMatchObject({
    hash: first,
    holds: true,
    acceptedBy: 'Wren',
  })
  await endAcceptedScreen(ctx, lines[0]!.id, 'Wren')
  expect((await acceptedHistory(ctx, place)).some(({ holds }) => holds)).toBe(false)
  await expect(endAcceptedScreen(ctx, lines[0]!.id, 'Wren')).rejects.toMatchObject({ code: 'NOT_FOUND' })
})

test('an accepted screen outlives the attempt it came from', async () => {
  const hash = await pictureOf('#123456')
  const { attempts } = await runSaying(() => ({ hash }))
  await acceptScreens(ctx, { attemptId: attempts['a wide']!, path: 'main.1', which: 'one' }, 'Priya')
  await putRetention(ctx, { screens: 30 }, 'Tomas')
  const other = await pictureOf('#654321') // shown by nobody
  for (const days of [400, 401]) await dropOldEvidence(laterBy(ctx, days * 86_400_000))
  expect(await pieceOf(ctx, hash)).toBeDefined()
  expect(await pieceOf(ctx, other)).toBeUndefined()
})

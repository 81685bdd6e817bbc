/** Pictures that targets are looked for by: kept, given to agents, refused. */
import sharp from 'sharp'
import { hashOf } from './evidence/store'
import { keepEvidence } from './evidence'
import { claimWork } from './dispatch'
import { removePicture, servePicture, setPicture } from './pictures'
import { startRun } from './runs'
import { addAgent, seedFiles, simpleSuite, testContext, type TestContext } from './testing/context'
import { settingsViewModel } from './view-models'

let ctx: TestContext
let screen: string
beforeAll(async () => {
  ctx = await testContext()
  const bytes = await plain(200, 100, '#2b6f5c')
  screen = hashOf(bytes)
  await keepEvidence(ctx, screen, 'image/png', bytes)
})
afterAll(() => ctx.end())

const plain = (width: number, height: number, background: string) =>
  sharp({ create: { width, height, channels: 3, background } })
    .png()
    .toBuffer()
const set = (name: string, request: Parameters<typeof setPicture>[2]) =>
  setPicture(ctx, name, request, 'Wren')

test('a part of a screen is cut out, and an agent is given it with a case that names it', async () => {
  await set('deck', { screen, box: { x: 20, y: 10, w: 60, h: 40 } })
  const served = await servePicture(ctx, 'deck')
  expect(await sharp(await served.arrayBuffer()).metadata()).toMatchObject({
    width: 60,
    height: 40,
    format: 'png',
  })
  const source = 'case: seen\ntitle: Seen\nsteps:\n  - click: { on: { picture: deck } }\n'
  await seedFiles(ctx, { 'seen.case.yaml': source, 'one.suite.yaml': simpleSuite('one', ['seen']) })
  expect((await settingsViewModel(ctx)).pictures).toMatchObject([
    { name: 'deck', width: 60, height: 40, setBy: 'Wren', uses: 1 },
  ])
  const agent = await addAgent(ctx, 'tolva-01')
  await startRun(
    ctx,
    { suite: 'one', environments: ['wide'], build: '1.0', retries: 0, limitMs: 60_000 },
    'Wren',
  )
  const work = (await claimWork(ctx, agent))!
  expect(Object.keys(work.pictures!)).toEqual(['deck'])
  expect(await sharp(Buffer.from(work.pictures!.deck!, 'base64')).metadata()).toMatchObject({ width: 60 })
})

test('a file is kept instead of what had its name, and taken away', async () => {
  await set('sign', { bytes: (await plain(40, 20, '#ffffff')).toString('base64') })
  await set('sign', { bytes: (await plain(30, 30, '#000000')).toString('base64') })
  expect(await sharp(await (await servePicture(ctx, 'sign')).arrayBuffer()).metadata()).toMatchObject({
    width: 30,
  })
  await removePicture(ctx, 'sign', 'Wren')
  await expect(servePicture(ctx, 'sign')).rejects.toMatchObject({ code: 'NOT_FOUND' })
  await expect(removePicture(ctx, 'sign', 'Wren')).rejects.toMatchObject({ code: 'NOT_FOUND' })
})

test.each<[string, string, () => Promise<Parameters<typeof setPicture>[2]>, string]>([
  ['a name with a way in it', '../deck', async () => ({ screen }), 'The name of a picture'],
  ['text', 'deck', async () => ({ bytes: Buffer.from('no picture').toString('base64') }), 'it is no PNG'],
  ['nothing', 'deck', async () => ({}), 'it is empty'],
  ['a part outside', 'deck', async () => ({ screen, box: { x: 190, y: 0, w: 60, h: 20 } }), 'reaches out'],
  ['a speck', 'deck', async () => ({ screen, box: { x: 0, y: 0, w: 4, h: 40 } }), 'at least 8 x 8'],
  [
    'a large file',
    'deck',
    async () => ({ bytes: (await plain(2000, 1000, '#fff')).toString('base64') }),
    'at most 1 million',
  ],
  ['a screen that is not kept', 'deck', async () => ({ screen: 'a'.repeat(64) }), 'not kept any more'],
])('%s is refused, and nothing is changed', async (_, name, request, words) => {
  await expect(set(name, await request())).rejects.toThrow(words)
  expect(await sharp(await (await servePicture(ctx, 'deck')).arrayBuffer()).metadata()).toMatchObject({
    width: 60,
  })
})

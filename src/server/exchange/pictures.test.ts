import sharp from 'sharp'
import { pictureBytes } from '@/db/pictures'
import { removePicture, setPicture } from '../pictures'
import { testContext, type TestContext } from '../testing/context'
import { exportWorkspace, importFiles, readZip } from '.'

let ctx: TestContext
beforeAll(async () => void (ctx = await testContext()))
afterAll(() => ctx.end())

const png = async (fill: string) =>
  (
    await sharp({ create: { width: 40, height: 20, channels: 3, background: fill } })
      .png()
      .toBuffer()
  ).toString('base64')
const kept = async () => (await pictureBytes(ctx.db, ['deck-plan']))[0]?.bytes.toString('base64')

test('pictures go out with the workspace, and come in again as they were', async () => {
  await setPicture(ctx, 'deck-plan', { bytes: await png('#2b6f5c') }, 'Wren')
  const before = await kept()
  const files = await readZip(ctx, await exportWorkspace(ctx))
  expect(files.map(({ file }) => file)).toContain('pictures/deck-plan.png')
  expect(await importFiles(ctx, files, true, 'Wren')).toMatchObject({ fresh: [], same: 1, problems: [] })

  await removePicture(ctx, 'deck-plan', 'Wren')
  expect(await importFiles(ctx, files, false, 'Wren')).toMatchObject({ fresh: ['deck-plan'], applied: false })
  expect(await kept()).toBeUndefined()
  await importFiles(ctx, files, true, 'Wren')
  expect(await kept()).toBe(before)
})

test('another picture of a name is a change; what is none is left out and told', async () => {
  const other = [{ file: 'pictures/deck-plan.png', source: await png('#b04a3a') }]
  expect((await importFiles(ctx, other, true, 'Wren')).changed).toMatchObject([{ key: 'deck-plan' }])
  const before = await kept()
  const bad = [
    { file: 'pictures/deck-plan.png', source: Buffer.from('no picture').toString('base64') },
    { file: 'pictures/a name.png', source: await png('#123456') },
    { file: 'elsewhere/deck-plan.png', source: await png('#123456') },
  ]
  const { problems, changed } = await importFiles(ctx, bad, true, 'Wren')
  expect(changed).toEqual([])
  expect(problems.map(({ file }) => file)).toEqual(['pictures/deck-plan.png', 'pictures/a name.png'])
  expect(await kept()).toBe(before)
})

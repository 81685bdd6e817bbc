import sharp from 'sharp'
import { type Problem } from '../http/problems'
import { testContext, type TestContext } from '../testing/context'
import { keepEvidence, screenDifference } from '.'
import { hashOf } from './store'

let ctx: TestContext
beforeAll(async () => void (ctx = await testContext()))
afterAll(() => ctx.end())

async function keep(mime: string, bytes: Uint8Array): Promise<string> {
  await keepEvidence(ctx, hashOf(bytes), mime, bytes)
  return hashOf(bytes)
}
const page = (fill: string) =>
  sharp(
    Buffer.from(
      '<svg xmlns="http://www.w3.org/2000/svg" width="320" height="200"><rect width="100%" ' +
        `height="100%" fill="#fff"/><rect x="40" y="40" width="80" height="60" fill="${fill}"/></svg>`,
    ),
  )

test.each(['image/png', 'image/jpeg'] as const)('where two screens differ, as %s', async (mime) => {
  const made = async (fill: string) =>
    keep(mime, await (mime === 'image/png' ? page(fill).png() : page(fill).jpeg({ quality: 80 })).toBuffer())
  const [green, red] = [await made('#2b6f5c'), await made('#b04a3a')]
  const { regions, same } = await screenDifference(ctx, green, red)
  expect(same).toBe(false)
  expect(regions).toHaveLength(1)
  const [{ x, y, w, h }] = regions as [(typeof regions)[number]]
  expect([x, y, x + w, y + h].map((edge, i) => Math.abs(edge - [40, 40, 120, 100][i]!) <= 8)).toEqual(
    Array(4).fill(true),
  )
  expect(await screenDifference(ctx, green, green)).toMatchObject({ same: true, ratio: 0, regions: [] })
})

test('what is not there, is no picture, or is cut off, is told in words', async () => {
  const screen = await keep('image/png', await page('#2b6f5c').png().toBuffer())
  const text = await keep('text/plain', Buffer.from('a page'))
  const cut = await keep('image/png', (await page('#123').png().toBuffer()).subarray(0, 60))
  const told = (from: string) =>
    screenDifference(ctx, from, screen).catch((error: unknown) => (error as Problem).message)
  expect(await told('0'.repeat(64))).toBe('This screen is not in the store any more.')
  expect(await told('../../etc/passwd')).toBe('This screen is not in the store any more.')
  expect(await told(text)).toBe('This piece of evidence is no picture.')
  expect(await told(cut)).toMatch(/^The screen cannot be compared: it is/)
})

test('a picture that is far too large is not decoded, and many at once are refused rather than kept in memory', async () => {
  const wide = await keep(
    'image/png',
    await sharp({ create: { width: 6000, height: 2000, channels: 3, background: '#fff' } })
      .png()
      .toBuffer(),
  )
  await expect(screenDifference(ctx, wide, wide)).rejects.toMatchObject({
    message: 'The screen cannot be compared: it has 6000 x 2000 pixels; at most 10 million are compared.',
  })
  const screen = await keep('image/png', await page('#456').png().toBuffer())
  const asked = Array.from({ length: 60 }, (_, i) =>
    screenDifference(ctx, String(i).padStart(64, '0'), screen),
  )
  const codes = (await Promise.allSettled(asked)).map(
    (one) => one.status === 'rejected' && (one.reason as Problem).code,
  )
  expect(codes.filter((code) => code === 'BUSY')).toHaveLength(60 - 22)
  expect(codes.filter((code) => code === 'NOT_FOUND')).toHaveLength(22)
})

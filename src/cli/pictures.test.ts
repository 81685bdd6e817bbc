import { mkdtempSync, rmSync, writeFileSync } from 'node:fs'
import { tmpdir } from 'node:os'
import { join } from 'node:path'
import { crc32, deflateSync } from 'node:zlib'
import { jest } from '@jest/globals'
import sharp from 'sharp'
import { computeCommand } from './compute'
import { options } from './options'

const folder = mkdtempSync(join(tmpdir(), 'oak-pictures-'))
let out = ''
let err = ''
beforeEach(() => {
  out = err = ''
  jest.spyOn(process.stdout, 'write').mockImplementation((text) => {
    out += String(text)
    return true
  })
  jest.spyOn(console, 'error').mockImplementation((line: string) => void (err += `${line}\n`))
})
afterEach(() => jest.restoreAllMocks())
afterAll(() => rmSync(folder, { recursive: true, force: true }))

const file = (name: string, bytes: Uint8Array | string) => {
  writeFileSync(join(folder, name), bytes)
  return join(folder, name)
}
const plain = (width: number, height: number, background: string) =>
  sharp({ create: { width, height, channels: 3, background } })
    .png()
    .toBuffer()
/** A PNG that says it is so large, and has no pixels (w3.org/TR/png). */
function pngOf(width: number, height: number): Buffer {
  const chunk = (type: string, data: Buffer) => {
    const body = Buffer.concat([Buffer.from(type), data])
    const [length, sum] = [Buffer.alloc(4), Buffer.alloc(4)]
    length.writeUInt32BE(data.length)
    sum.writeUInt32BE(crc32(body))
    return Buffer.concat([length, body, sum])
  }
  const head = Buffer.alloc(13)
  head.writeUInt32BE(width, 0)
  head.writeUInt32BE(height, 4)
  head.set([8, 2, 0, 0, 0], 8)
  const parts = [
    chunk('IHDR', head),
    chunk('IDAT', deflateSync(Buffer.alloc(0))),
    chunk('IEND', Buffer.alloc(0)),
  ]
  return Buffer.concat([Buffer.from([137, 80, 78, 71, 13, 10, 26, 10]), ...parts])
}
const run = (...args: string[]) => computeCommand(options(['compute', 'difference', ...args]))

test('two pictures are compared, and a part is left out', async () => {
  const [a, b] = [file('a.png', await plain(40, 30, '#fff')), file('b.png', await plain(40, 30, '#c33'))]
  expect(await run(a, b)).toBe(0)
  expect(JSON.parse(out)).toMatchObject({ same: false, ratio: 1, regions: [{ x: 0, y: 0, w: 40, h: 30 }] })
  out = ''
  expect(await run(a, b, '--ignore', '0,0,40,30')).toBe(0)
  expect(JSON.parse(out)).toMatchObject({ same: true, ratio: 0, regions: [] })
})

test('a picture that is none, is cut off or too large is told by its name, and nothing is printed', async () => {
  const good = file('good.png', await plain(40, 30, '#fff'))
  const noise = await sharp({
    create: {
      width: 200,
      height: 200,
      channels: 3,
      background: '#fff',
      noise: { type: 'gaussian', mean: 128, sigma: 30 },
    },
  })
    .png()
    .toBuffer()
  const huge = pngOf(20_000, 20_000)
  for (const [name, bytes, words] of [
    ['text.png', 'no picture', 'it is no PNG, JPEG or WebP picture'],
    ['empty.png', '', 'it is empty'],
    ['cut.png', noise.subarray(0, noise.length / 2), 'it is broken, or cut off'],
    ['huge.png', huge, 'it has 20000 x 20000 pixels; at most 40 million are compared'],
  ] as const) {
    err = ''
    expect(await run(good, file(name, bytes))).toBe(2)
    expect(err).toBe(`error: ${join(folder, name)}: ${words}\n`)
    expect(out).toBe('')
  }
})

test('a patch is found with its size, and words are read', async () => {
  const screen = await sharp({ create: { width: 300, height: 160, channels: 3, background: '#fff' } })
    .composite([
      {
        input: Buffer.from(
          '<svg width="300" height="160"><text x="60" y="90" font-size="22" font-family="DejaVu ' +
            'Sans">Pay now</text></svg>',
        ),
      },
    ])
    .png()
    .toBuffer()
  const patch = await sharp(screen).extract({ left: 56, top: 66, width: 110, height: 32 }).png().toBuffer()
  const [a, b] = [file('screen.png', screen), file('patch.png', patch)]
  expect(await computeCommand(options(['compute', 'find', a, b, '--least', '0.9']))).toBe(0)
  expect(JSON.parse(out)).toMatchObject([{ x: 56, y: 66, w: 110, h: 32, scale: 1 }])
  out = ''
  expect(await computeCommand(options(['compute', 'read', a]))).toBe(0)
  expect(JSON.parse(out).map(({ text }: { text: string }) => text)).toEqual(['Pay', 'now'])
})

test('--least is a number from 0 to 1', () => {
  for (const text of ['2', 'much', ''])
    expect(() => options(['compute', 'find', '--least', text])).toThrow('--least wants')
})

test.each([
  [['a.png'], 'compute difference wants two pictures'],
  [['a.png', 'b.png', '--ignore', '1,2,3'], '--ignore wants x,y,w,h in pixels'],
  [['none.png', 'none.png'], 'none.png cannot be read'],
])('%j is refused with words', async (args, words) => {
  await expect(run(...args)).rejects.toThrow(words)
})

/** A patch on a screen: at any size and in any theme, and never where it is not. */
import { find } from './find'
import { Correlator } from './fourier'
import { greyOf, resized } from './grey'
import { cropped, type Box, type Pixels } from './pixels'
import { block, draw, words } from './testing/drawing'

const THEMES = {
  light: { ground: '#ffffff', panel: '#eef3f5', ink: '#1d2b33', accent: '#0b6e8a', on: '#ffffff' },
  dark: { ground: '#12191d', panel: '#1d282e', ink: '#e3ecf0', accent: '#4fb4cf', on: '#0b1418' },
}
const text = (x: number, y: number, content: string, fill: string, size = 16) =>
  `<text x="${x}" y="${y}" font-family="DejaVu Sans" font-size="${size}" fill="${fill}">${content}</text>`

/** The search of the ferry line; `deck`: another page, with none of its parts. */
function screen(theme: keyof typeof THEMES, scale = 1, deck = false): Promise<Pixels> {
  const { ground, panel, ink, accent, on } = THEMES[theme]
  const search = [
    text(30, 70, 'Find a sailing', ink, 26),
    block(30, 100, 300, 120, panel, `stroke="${ink}" rx="6"`),
    text(46, 130, '07:15 MV Heron', ink),
    text(46, 156, 'Car deck 2, 42 places', ink, 13),
    block(46, 170, 136, 38, accent, 'rx="6"'),
    text(62, 194, 'Choose 07:15', on),
    `<path d="M420 180l6 9h42l6-9-27-9zM429 165v-15h36v15M447 138v12" fill="none" stroke="${ink}" ` +
      'stroke-width="3"/>',
  ]
  const plan = Array.from({ length: 12 }, (_, i) =>
    block(40 + (i % 6) * 70, 90 + Math.floor(i / 6) * 90, 52, 66, i % 4 ? panel : accent, `stroke="${ink}"`),
  )
  const inner = deck ? [text(30, 60, 'Deck plan', ink, 26), ...plan] : search
  return draw(`<g transform="scale(${scale})">${inner.join('')}</g>`, {
    width: Math.round(560 * scale),
    height: Math.round(320 * scale),
    ground,
  })
}
const part = (pixels: Pixels, { x, y, w, h }: Box): Pixels => {
  const right = cropped(pixels, x + w, y + h)
  const data = new Uint8Array(w * h * 4)
  for (let v = 0; v < h; v++) {
    const from = ((y + v) * (x + w) + x) * 4
    data.set(right.data.subarray(from, from + w * 4), v * w * 4)
  }
  return { width: w, height: h, data }
}

const PARTS: Record<string, Box> = {
  'the card': { x: 28, y: 98, w: 304, h: 124 },
  'the button with some ground': { x: 40, y: 164, w: 150, h: 50 },
  'the button alone': { x: 46, y: 170, w: 136, h: 38 },
  'a line of text': { x: 44, y: 114, w: 150, h: 22 },
  'the sign of a ship': { x: 414, y: 132, w: 66, h: 62 },
}

describe.each(Object.entries(PARTS))('%s', (_, box) => {
  test.each([
    ['light', 1],
    ['dark', 1],
    ['light', 0.75],
    ['light', 1.3],
    ['dark', 1.5],
  ] as const)('is found first in the %s theme at %d', async (theme, scale) => {
    const patch = part(await screen('light'), box)
    const [best] = find(await screen(theme, scale), patch, { least: 0.75 })
    expect(best).toBeDefined()
    expect(Math.abs(best!.x + best!.w / 2 - (box.x + box.w / 2) * scale)).toBeLessThan(4)
    expect(Math.abs(best!.y + best!.h / 2 - (box.y + box.h / 2) * scale)).toBeLessThan(4)
    expect(Math.abs(best!.scale - scale)).toBeLessThan(0.05)
  })

  test('is not on another page', async () => {
    const patch = part(await screen('light'), box)
    expect(find(await screen('light', 1, true), patch)).toEqual([])
  })
})

test('what is there as it is stands exactly there, at 1', async () => {
  const pixels = await screen('light')
  const box = PARTS['the button alone']!
  const [best] = find(pixels, part(pixels, box))
  expect(best).toMatchObject({ ...box, scale: 1 })
  expect(best!.score).toBeGreaterThan(0.99)
})

test('each of several is told, and none twice', async () => {
  const places = [20, 160, 300]
  const several = await draw(
    places.map((x) => block(x, 40, 90, 40, '#0b6e8a') + words(x + 12, 66, 'Choose')).join(''),
  )
  const found = find(several, part(several, { x: 16, y: 36, w: 98, h: 48 }))
  expect(found.map(({ x }) => x).toSorted((a, b) => a - b)).toEqual([16, 156, 296])
})

test.each([
  ['an empty patch', 60, 30],
  ['a patch of one pixel', 1, 1],
  ['a patch larger than the screen', 3000, 2000],
])('%s is nowhere', async (_, width, height) => {
  expect(find(await screen('light'), await draw('', { width, height }))).toEqual([])
})

test('a screen of one pixel holds nothing', async () => {
  expect(
    find(await draw('', { width: 1, height: 1 }), await draw(words(4, 20, 'Pay'), { width: 40, height: 24 })),
  ).toEqual([])
})

test('the products of two patterns are those of counting by hand', () => {
  const values = (n: number, seed: number) =>
    Float32Array.from({ length: n }, (_, i) => ((i * seed) % 17) - 8)
  const field = { width: 11, height: 7, data: values(77, 5) }
  const patterns = [
    { width: 3, height: 2, data: values(6, 7) },
    { width: 4, height: 5, data: values(20, 3) },
  ]
  const { stride, one, other } = new Correlator(field).products(patterns[0]!, patterns[1]!)
  for (const [i, { width, height, data }] of patterns.entries())
    for (let y = 0; y <= field.height - height; y++)
      for (let x = 0; x <= field.width - width; x++) {
        let sum = 0
        for (let v = 0; v < height; v++)
          for (let u = 0; u < width; u++) sum += data[v * width + u]! * field.data[(y + v) * 11 + x + u]!
        expect((i === 0 ? one : other)[y * stride + x]).toBeCloseTo(sum, 6)
      }
})

test('a resized picture keeps its mean, and one of the same size is itself', async () => {
  const grey = greyOf(await screen('light'))
  const mean = (data: Float32Array) => data.reduce((sum, value) => sum + value, 0) / data.length
  expect(mean(resized(grey, 140, 80).data)).toBeCloseTo(mean(grey.data), 1)
  expect(mean(resized(grey, 840, 480).data)).toBeCloseTo(mean(grey.data), 0)
  expect(resized(grey, 560, 320)).toBe(grey)
})

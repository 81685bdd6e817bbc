import fc from 'fast-check'
import { difference, type Pixels, type Region } from '.'
import { block, draw, words } from './testing/drawing'

const page = (more = '') =>
  [
    words(40, 40, 'Book a passage'),
    block(40, 60, 200, 30, '#f0ece4', 'stroke="#888"'),
    words(50, 82, 'Skerrow'),
    block(40, 110, 120, 34, '#2b6f5c', 'rx="6"'),
    words(58, 132, 'Find sailings', 'style="fill:#fff"'),
    more,
  ].join('')
/** How much of two boxes is in both, by how much is in any. */
function likeness(one: Region, [x, y, w, h]: readonly [number, number, number, number]): number {
  const both =
    Math.max(0, Math.min(one.x + one.w, x + w) - Math.max(one.x, x)) *
    Math.max(0, Math.min(one.y + one.h, y + h) - Math.max(one.y, y))
  return both / (one.w * one.h + w * h - both)
}
const inWords = ({ regions }: ReturnType<typeof difference>) =>
  regions.map(({ kind, dx, dy }) => (kind === 'moved' ? `moved ${dx} ${dy}` : kind))

describe('no difference', () => {
  test('a picture and itself; pictures of nothing', async () => {
    const a = await draw(page())
    expect(difference(a, a)).toEqual({
      same: true,
      ratio: 0,
      size: { a: { w: 640, h: 400 }, b: { w: 640, h: 400 } },
      regions: [],
    })
    const none = { width: 0, height: 0, data: new Uint8Array(0) }
    expect(difference(none, none)).toMatchObject({ same: true, ratio: 0, regions: [] })
  })
  test('steps of a colour or two', async () => {
    const a = await draw(page())
    const b = { ...a, data: a.data.map((value, i) => (i % 4 === 3 ? value : Math.min(255, value + (i % 3)))) }
    expect(difference(a, b)).toMatchObject({ same: true, regions: [] })
  })
  test('edges that are smoothed otherwise', async () => {
    const circle = (at: number) => `<circle cx="${at}" cy="200" r="80" fill="#2b6f5c"/>`
    expect(difference(await draw(circle(200)), await draw(circle(200.3)))).toMatchObject({ same: true })
  })
  test('what is to be ignored', async () => {
    const [a, b] = [await draw(page()), await draw(page(words(300, 300, 'Storm notice')))]
    expect(difference(a, b, { ignore: [{ x: 290, y: 280, w: 200, h: 40 }] })).toMatchObject({ same: true })
    expect(difference(a, b, { ignore: [{ x: -50, y: -50, w: 10_000, h: 10_000 }] })).toMatchObject({
      same: true,
    })
  })
})

describe('what kind of difference', () => {
  test.each<[string, string, string, string[], [number, number, number, number]]>([
    ['words that came', '', words(300, 300, 'Storm notice'), ['added'], [301, 287, 103, 13]],
    ['words that went', words(300, 300, 'Storm notice'), '', ['removed'], [301, 287, 103, 13]],
    ['other words', words(300, 300, 'FSF-100'), words(300, 300, 'FSF-742'), ['changed'], [336, 289, 27, 11]],
    [
      'a theme colour of three steps',
      block(300, 200, 200, 100, '#2b6f5c'),
      block(300, 200, 200, 100, '#2e725f'),
      ['changed'],
      [300, 200, 200, 100],
    ],
    [
      'a card moved across',
      block(300, 200, 100, 60, '#dfe8d8') + words(310, 236, 'Deck 4'),
      block(430, 215, 100, 60, '#dfe8d8') + words(440, 251, 'Deck 4'),
      ['moved 130 15'],
      [430, 215, 100, 60],
    ],
    [
      'a card moved by less than its size',
      block(300, 200, 100, 60, '#dfe8d8') + words(310, 236, 'Deck 4'),
      block(312, 200, 100, 60, '#dfe8d8') + words(322, 236, 'Deck 4'),
      ['moved 12 0'],
      [312, 200, 100, 60],
    ],
    [
      'a box of one colour, moved by less than its size',
      block(300, 200, 100, 60, '#7a3b2e'),
      block(300, 212, 100, 60, '#7a3b2e'),
      ['moved 0 12'],
      [300, 212, 100, 60],
    ],
    [
      'a line of words, moved by a pixel',
      words(300, 300, 'Storm notice'),
      words(300, 301, 'Storm notice'),
      ['moved 0 1'],
      [301, 288, 103, 13],
    ],
  ])('%s', async (_, before, now, kinds, box) => {
    const found = difference(await draw(page(before)), await draw(page(now)))
    expect(inWords(found)).toEqual(kinds)
    expect(likeness(found.regions[0]!, box)).toBeGreaterThan(0.85)
    expect(found.same).toBe(false)
  })
  test('what a new line pushed down moved; the line is added', async () => {
    const rows = (top: number) =>
      ['Skerrow 9:40', 'Tolva 11:15', 'Ardmore 13:05']
        .map((text, i) => words(40, top + 30 * i, text))
        .join('')
    const found = difference(
      await draw(rows(60)),
      await draw(block(0, 0, 640, 36, '#f4d9a8') + words(40, 24, 'Storm notice') + rows(96)),
    )
    expect(inWords(found).sort()).toEqual(['added', 'moved 0 36'])
    const [line, rest] = [...found.regions].sort((one, other) => one.y - other.y)
    expect(likeness(line!, [0, 0, 640, 36])).toBeGreaterThan(0.85)
    expect(rest!.y).toBeGreaterThan(36)
  })
  test('what stands under something new moved, though it is as wide as the page', async () => {
    const rows = (top: number) =>
      Array.from({ length: 8 }, (_, i) =>
        words(20, top + 34 * i, `Passage ${i * 7} from Skerrow to Tolva`),
      ).join('')
    const head = block(0, 0, 640, 40, '#22332c')
    const found = difference(
      await draw(head + rows(70)),
      await draw(head + block(0, 40, 640, 24, '#f4d9a8') + rows(94)),
    )
    const body = found.regions.find(({ kind }) => kind === 'moved')!
    expect(body).toMatchObject({ dx: 0, dy: 24 })
    expect(body.y).toBeGreaterThanOrEqual(64)
  })
  test('of a moved card that changed as well, both is told', async () => {
    const card = (x: number, text: string) =>
      block(x, 200, 160, 90, '#dfe8d8', 'stroke="#556"') +
      words(x + 10, 226, 'Deck plan') +
      words(x + 10, 276, text)
    const found = difference(await draw(card(60, '12 berths')), await draw(card(300, '47 seats')))
    expect(inWords(found).filter((kind) => kind.startsWith('moved'))).toContain('moved 240 0')
  })
})

test('of different sizes the part that both have is compared, and they are not the same', async () => {
  const [a, b] = [await draw(page()), await draw(page(), { width: 700, height: 380 })]
  expect(difference(a, b)).toMatchObject({
    same: false,
    size: { a: { w: 640, h: 400 }, b: { w: 700, h: 380 } },
    regions: [],
  })
})

test('every pixel that differs by much is in a region, and regions are in the picture', () => {
  const size = 24
  fc.assert(
    fc.property(
      fc.uint8Array({ minLength: size * size, maxLength: size * size }),
      fc.array(fc.nat(size * size - 1), { maxLength: 40 }),
      (grey, spots) => {
        const a: Pixels = { width: size, height: size, data: new Uint8Array(size * size * 4).fill(255) }
        for (const [i, value] of grey.entries()) a.data.fill(value < 128 ? 0 : 40, i * 4, i * 4 + 3)
        const b = { ...a, data: a.data.slice() }
        for (const at of spots) b.data.fill(255, at * 4, at * 4 + 3)
        const { regions, same, ratio } = difference(a, b)
        expect(same).toBe(regions.length === 0)
        expect(ratio).toBeGreaterThanOrEqual(0)
        for (const { x, y, w, h } of regions) {
          expect(Math.min(x, y, w - 1, h - 1)).toBeGreaterThanOrEqual(0)
          expect(Math.max(x + w, y + h)).toBeLessThanOrEqual(size)
        }
      },
    ),
  )
})

/** What is seen on screens: parts found at other sizes and in other themes, words read, two screens compared.
 * */
import { NO_COUNTS } from '../src/core/execution'
import { csvOf, htmlOf, junitOf, sheetsOf, type RunReport } from '../src/core/reports'
import { difference, find, type Box, type Pixels } from '../src/core/vision'
import { readWords } from '../src/node/read-words'
import { quantile, report } from './report'
import { drawScreens } from './screens'

const LOOKS = [
  ['light', 1],
  ['light', 0.75],
  ['light', 1.25],
  ['light', 1.5],
  ['dark', 1],
  ['dark', 1.25],
  ['sand', 0.9],
] as const
const screens = await drawScreens(LOOKS)
const plain = screens.filter(({ theme, zoom }) => theme === 'light' && zoom === 1)

const found = { there: 0, right: 0, absent: 0, wrong: 0 }
const findMs: number[] = []
for (const from of plain)
  for (const [name, box] of from.parts) {
    const patch = part(from.pixels, box)
    for (const screen of screens) {
      const want = screen.page === from.page ? screen.parts.get(name)! : undefined
      if (want ? !isWhole(want) : screen.zoom !== 1) continue
      const begun = performance.now()
      const [best] = find(screen.pixels, patch)
      findMs.push(performance.now() - begun)
      if (want) {
        found.there++
        if (best && isAt(best, want)) found.right++
        else console.log(`      not found: ${name}, ${screen.theme} at ${screen.zoom}`)
      } else {
        found.absent++
        if (best) {
          found.wrong++
          console.log(`      found where it is not: ${name} on ${screen.page}, ${best.score}`)
        }
      }
    }
  }
report(
  `parts that are not found, of ${found.there}`,
  found.there - found.right,
  Math.ceil(found.there * 0.06),
  '',
)
report(
  `parts found where they are not, of ${found.absent}`,
  found.wrong,
  Math.max(1, found.absent * 0.02),
  '',
)
report('find, median', quantile(findMs, 0.5), 800, 'ms')

let [words, read] = [0, 0]
const readMs: number[] = []
for (const screen of screens) {
  const begun = performance.now()
  const seen = (await readWords(screen.pixels)).map(({ text }) => plainly(text))
  readMs.push(performance.now() - begun)
  for (const word of screen.words.map(plainly).filter(Boolean)) {
    words++
    const at = seen.indexOf(word)
    if (at < 0) continue
    seen.splice(at, 1)
    read++
  }
}
report(`words that are not read, of ${words}`, words - read, Math.ceil(words * 0.1), '')
report('read, median', quantile(readMs, 0.5), 2000, 'ms')

const compareMs = plain.map(({ page, pixels }) => {
  const other = screens.find((one) => one.page === page && one.theme === 'dark' && one.zoom === 1)!
  const begun = performance.now()
  difference(pixels, other.pixels)
  return performance.now() - begun
})
report('difference of two themes, 1280 x 800', quantile(compareMs, 0.5), 150, 'ms')

/** A run as large as a night has them, a tenth of it failed. */
const large: RunReport = {
  id: 1,
  title: 'Night Full',
  build: '2026.11.4',
  state: 'ended',
  counts: { ...NO_COUNTS, passed: 1800, failed: 200 },
  startedAt: '2026-11-29T22:00:00.000Z',
  endedAt: '2026-11-30T00:10:00.000Z',
  environments: [{ key: 'chromium-debian', title: 'Chromium, Debian' }],
  leftOut: [],
  cases: Array.from({ length: 2000 }, (_, i) => ({
    group: 'Booking',
    case: `case-${i}`,
    title: `A crossing with ${i} passengers`,
    row: null,
    environment: 'chromium-debian',
    mark: i % 10 === 0 ? ('failed' as const) : ('passed' as const),
    attempts: 1,
    durationMs: 4000 + i,
    agent: 'maren-01',
    attemptId: null,
    failure: i % 10 === 0 ? 'The text is not what was expected' : null,
    failureKind: i % 10 === 0 ? 'check' : null,
    expected: i % 10 === 0 ? '86.40' : null,
    actual: i % 10 === 0 ? '86.39' : null,
    screen: null,
  })),
}
for (const [name, write] of [
  ['HTML', htmlOf],
  ['JUnit XML', junitOf],
  ['CSV', csvOf],
  ['sheets', sheetsOf],
] as const) {
  const begun = performance.now()
  write(large)
  report(`report of 2,000 case runs as ${name}`, performance.now() - begun, 1000, 'ms')
}

function part({ width, data }: Pixels, { x, y, w, h }: Box): Pixels {
  const own = new Uint8Array(w * h * 4)
  for (let row = 0; row < h; row++) {
    const from = ((y + row) * width + x) * 4
    own.set(data.subarray(from, from + w * 4), row * w * 4)
  }
  return { width: w, height: h, data: own }
}

function isWhole({ x, y, w, h }: Box): boolean {
  return x + w <= 1280 && y + h <= 800
}

function isAt(a: Box, b: Box): boolean {
  return Math.abs(a.x + a.w / 2 - b.x - b.w / 2) < 6 && Math.abs(a.y + a.h / 2 - b.y - b.h / 2) < 6
}

function plainly(word: string): string {
  return word.toLowerCase().replace(/[^\p{L}\p{N}]/gu, '')
}

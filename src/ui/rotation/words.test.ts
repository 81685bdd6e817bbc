import { parse } from 'yaml'
import type { Environment } from '@/core/model'
import { coverWords, pastWords, snippets, variantWords } from './words'

const environments = [{ key: 'firefox-windows', title: 'Firefox, Windows' }] as Environment[]
const MINUTE_MS = 60_000

test.each([
  [
    { kind: 'seat', environment: 'firefox-windows', seats: 4, earlierMs: 21 * MINUTE_MS } as const,
    'A fourth seat for Firefox, Windows',
    '21 min earlier',
  ],
  [
    { kind: 'seat', environment: 'gone', seats: 13, earlierMs: -4000 } as const,
    'A 13th seat for gone',
    '4.0 s later',
  ],
  [
    { kind: 'without', environment: 'firefox-windows', seats: 0, earlierMs: 90_000 } as const,
    'Without Firefox, Windows',
    '1 min 30 s earlier',
  ],
])('%o', (variant, what, effect) => expect(variantWords(variant, environments)).toEqual({ what, effect }))

type Picked = Parameters<typeof coverWords>[0]['picked']
const picked = (more: Partial<Picked>) =>
  ({
    picked: { keys: ['a', 'b'], possible: 6, uncovered: [], faults: [], ...more },
  }) as unknown as Parameters<typeof coverWords>[0]
test.each([
  ['all there is', picked({ possible: 1 }), 'all', 'The one environment that fits.'],
  ['all of several', picked({}), 'all', 'All that fit: 6 environments.'],
  [
    'nothing to pair',
    picked({}),
    'pairs',
    'Too few of their values differ for pairs: all 2 environments that fit.',
  ],
  [
    'what rules make impossible is no pair',
    picked({ pairs: { total: 9, covered: 7, impossible: 2 } }),
    'pairs',
    '7 of 7 pairs of browser, system, screen and locale are met in 2 environments; all combinations ' +
      'would be 6.',
  ],
  [
    'what is left over is named',
    picked({
      pairs: { total: 9, covered: 8, impossible: 0 },
      uncovered: [{ browser: 'Firefox', os: 'macOS 15' }],
    }),
    'pairs',
    '8 of 9 pairs of browser, system, screen and locale are met in 2 environments; all combinations ' +
      'would be 6. 1 is in none: Firefox with macOS 15.',
  ],
] as const)('%s', (_, outlook, cover, words) => expect(coverWords(outlook, cover)).toBe(words))

const past = (ms: number, counts = true) =>
  ({
    ms,
    p50Ms: 10 * MINUTE_MS,
    p90Ms: 12 * MINUTE_MS,
    ...(counts && { counts: {} }),
  }) as unknown as Parameters<typeof pastWords>[0][number]
test('how good forecasts were: of none, of one, of several; runs that were cut short are left out', () => {
  expect(pastWords([])).toBeUndefined()
  expect(pastWords([past(0, false)])).toBeUndefined()
  expect(pastWords([past(10 * MINUTE_MS + 300)])).toBe('The last run ended on time.')
  expect(pastWords([past(8 * MINUTE_MS), past(11 * MINUTE_MS), past(15 * MINUTE_MS)])).toBe(
    'The last 3 ended between 2 min early and 5 min late; 2 within what nine in ten should be.',
  )
})

test('each snippet names the rotation and the server, and the pipeline is sound YAML without a token in it', () => {
  const made = snippets('night-full', 'http://oak.fennel-sound.invalid')
  for (const { text } of made) expect(text).toMatch(/night-full/)
  const { regression } = parse(made.find(({ name }) => name === 'YAML pipeline')!.text) as {
    regression: { environment: Record<string, string>; steps: { run: string }[] }
  }
  expect(regression.environment).toEqual({
    OAK_SERVER: 'http://oak.fennel-sound.invalid',
    OAK_TOKEN: '$OAK_TOKEN',
  })
  expect(regression.steps[0]!.run).toContain('./oak run night-full --build "$BUILD" --wait')
})

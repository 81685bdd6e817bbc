import { occursWords, type TriedWith } from '.'

const HERE = { environment: 'Narrow', build: '3' }
const tried = (
  environment: string,
  build: string,
  failed: number,
  of: number,
  firstMs = Number(build),
): TriedWith => ({
  environment,
  build,
  failed,
  of,
  firstMs,
})
const words = (...all: TriedWith[]) => occursWords(all, HERE, (ms) => `day ${ms}`)

test.each<[string, TriedWith[], string]>([
  [
    'once, with nothing else known',
    [tried('Narrow', '3', 1, 1)],
    'Failed the one time it ran on Narrow with build 3. First seen there with build 3, day 3; no ' +
      'earlier build is known to be good there.',
  ],
  [
    'each time of several',
    [tried('Narrow', '3', 4, 4)],
    'Fails each time (4 of 4) on Narrow with build 3. First seen there with build 3, day 3; no ' +
      'earlier build is known to be good there.',
  ],
  [
    'now and then, where another environment is good',
    [tried('Narrow', '3', 2, 5), tried('Wide', '3', 0, 4), tried('Narrow', '2', 0, 9)],
    'Fails 2 of 5 times on Narrow with build 3. Does not fail on Wide (4 times). First seen there ' +
      'with build 3, day 3; good there with build 2 (9 times).',
  ],
  [
    'since the build before, and elsewhere too',
    [
      tried('Narrow', '1', 0, 1),
      tried('Narrow', '3', 1, 1),
      tried('Narrow', '2', 1, 3),
      tried('Wide', '3', 1, 2),
      tried('Wide', '2', 0, 2),
    ],
    'Failed the one time it ran on Narrow with build 3. Fails too on Wide (1 of 2). First seen there ' +
      'with build 2, day 2; good there with build 1 (once).',
  ],
  [
    'after it had been mended once',
    [
      tried('Narrow', '1', 3, 3),
      tried('Narrow', '2', 0, 2),
      tried('Narrow', '3', 1, 1),
      tried('Narrow', '4', 0, 1),
    ],
    'Failed the one time it ran on Narrow with build 3. First seen there with build 3, day 3; good ' +
      'there with build 2 (2 times).',
  ],
  ['nowhere that is known any more', [tried('Wide', '3', 1, 1)], ''],
  ['nothing', [], ''],
])('it fails %s', (_, all, expected) => expect(words(...all)).toBe(expected))

test('of many environments the first are named, and how many more there are', () => {
  const many = Array.from({ length: 12 }, (_, i) => tried(`Env ${i}`, '3', 0, 1))
  expect(words(tried('Narrow', '3', 1, 1), ...many)).toContain('Env 7 (once) and 4 more.')
})

test.each<[string, TriedWith[], { build: string; atMs: number }[], string]>([
  [
    'known ones, and those that ran elsewhere, in their order',
    [tried('Narrow', '3', 1, 1, 30), tried('Narrow', '1', 0, 1, 10), tried('Wide', '2b', 0, 1, 25)],
    [{ build: '2a', atMs: 20 }],
    'good there with build 1 (once), and not run there with 2a, 2b between them.',
  ],
  [
    'not what came before the good one or after the bad one, though the case ran later',
    [tried('Narrow', '3', 1, 1, 30), tried('Narrow', '1', 0, 1, 19)],
    [
      { build: '0', atMs: 1 },
      { build: '1', atMs: 5 },
      { build: '3', atMs: 12 },
      { build: '4', atMs: 15 },
      { build: '2', atMs: 9 },
    ],
    'good there with build 1 (once), and not run there with 2 between them.',
  ],
  [
    'none where there was none',
    [tried('Narrow', '3', 1, 1), tried('Narrow', '2', 0, 1), tried('Wide', '2', 0, 1)],
    [{ build: '3', atMs: 3 }],
    'good there with build 2 (once).',
  ],
])('builds between are named: %s', (_, all, known, expected) =>
  expect(occursWords(all, HERE, (ms) => `day ${ms}`, known)).toContain(expected),
)

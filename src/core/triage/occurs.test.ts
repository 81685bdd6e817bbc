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
    'each time, with nothing else known',
    [tried('Narrow', '3', 1, 1)],
    'Fails each time (1 of 1) on Narrow with build 3. First seen there with build 3, day 3; no earlier build is known to be good there.',
  ],
  [
    'now and then, where another environment is good',
    [tried('Narrow', '3', 2, 5), tried('Wide', '3', 0, 4), tried('Narrow', '2', 0, 9)],
    'Fails 2 of 5 times on Narrow with build 3. Does not fail on Wide (4 times). First seen there with build 3, day 3; good there with build 2 (9 times).',
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
    'Fails each time (1 of 1) on Narrow with build 3. Fails too on Wide (1 of 2). First seen there with build 2, day 2; good there with build 1 (once).',
  ],
  [
    'after it had been mended once',
    [
      tried('Narrow', '1', 3, 3),
      tried('Narrow', '2', 0, 2),
      tried('Narrow', '3', 1, 1),
      tried('Narrow', '4', 0, 1),
    ],
    'Fails each time (1 of 1) on Narrow with build 3. First seen there with build 3, day 3; good there with build 2 (2 times).',
  ],
  ['nowhere that is known any more', [tried('Wide', '3', 1, 1)], ''],
  ['nothing', [], ''],
])('it fails %s', (_, all, expected) => expect(words(...all)).toBe(expected))

test('of many environments the first are named, and how many more there are', () => {
  const many = Array.from({ length: 12 }, (_, i) => tried(`Env ${i}`, '3', 0, 1))
  expect(words(tried('Narrow', '3', 1, 1), ...many)).toContain('Env 7 (once) and 4 more.')
})

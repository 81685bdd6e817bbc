import { randomFrom } from '../execution/random'
import { logSigma, normalCdf, randomNormal } from './normal'

test.each([
  [0, 0.5],
  [1, 0.841344746],
  [-1, 0.158655254],
  [1.2815515655, 0.9],
  [3, 0.998650102],
  [-8, 0],
])('the distribution function at %f is %f', (z, share) => expect(normalCdf(z)).toBeCloseTo(share, 6))

test('a duration drawn through its p50 and p90 is longer than them as often as they say', () => {
  const [random, sigma] = [randomFrom(5), logSigma(60_000, 90_000)]
  const drawn = Array.from({ length: 20_000 }, () => 60_000 * Math.exp(sigma * randomNormal(random)))
  const shareOver = (ms: number) => drawn.filter((one) => one > ms).length / drawn.length
  expect(shareOver(60_000)).toBeCloseTo(0.5, 1)
  expect(shareOver(90_000)).toBeGreaterThan(0.09)
  expect(shareOver(90_000)).toBeLessThan(0.11)
})

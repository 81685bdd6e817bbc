import { createServer, type Server } from 'node:http'
import type { AddressInfo } from 'node:net'
import type { Environment } from '@/core/model'
import type { Pace } from '../driver/port'
import { SimulatedDriver } from './driver'

/** A page with one link to itself. */
const PAGE = '<html><title>Crossings</title><body><a href="/">Search again</a></body></html>'
const LIMIT_MS = 5000

let server: Server
let address: string
beforeAll(async () => {
  server = createServer((_, response) => response.end(PAGE))
  await new Promise<void>((resolve) => server.listen(0, '127.0.0.1', resolve))
  address = `http://127.0.0.1:${(server.address() as AddressInfo).port}/`
})
afterAll(() => {
  server.closeAllConnections()
  server.close()
})

const environment = (key: string): Environment => ({
  key,
  title: key,
  browser: 'B',
  os: 'O',
  width: 800,
  height: 600,
  locale: 'en-GB',
  simulated: true,
})
type Injected = { slow?: number; upset?: number }

/** Opens the page so many times: how long it took on a clock that only pauses move on, and what went
 * wrong. */
async function visits(
  key: string,
  seed: number,
  times: number,
  injected: Injected = {},
  calm = false,
): Promise<{ ms: number; faults: string[] }> {
  let ms = 0
  const pace: Pace = { now: () => ms, pause: async (more) => void (ms += more) }
  const driver = new SimulatedDriver({
    environment: environment(key),
    pace,
    seed,
    calm,
    faults: { factor: (what) => injected[what] ?? 1 },
  })
  const faults: string[] = []
  for (let i = 0; i < times; i++)
    await driver.open(address, LIMIT_MS).catch((error: Error) => void faults.push(error.message))
  return { ms, faults }
}

test('the same seed gives the same night, another seed another', async () => {
  const [one, again, other] = [
    await visits('android-handset', 7, 60),
    await visits('android-handset', 7, 60),
    await visits('android-handset', 8, 60),
  ]
  expect(again).toEqual(one)
  expect(other.ms).not.toBe(one.ms)
})

test(
  'a handset is slower than a desktop, by about as much as its profile says; told to be slow, by ' +
    'as much again',
  async () => {
    const [desktop, handset, slowed] = [
      await visits('chromium-macos', 3, 80),
      await visits('android-handset', 3, 80),
      await visits('chromium-macos', 3, 80, { slow: 4 }),
    ]
    expect(desktop.faults).toEqual([]) // seeded: a hang would be counted as time
    expect(slowed.ms / desktop.ms).toBeCloseTo(4, 5)
    expect(handset.ms / desktop.ms).toBeGreaterThan(2.5)
  },
)

test('upset, it hangs and breaks as often as told, each in its own words; a hang takes the whole limit', async () => {
  const quiet = await visits('webkit-macos', 5, 100)
  const upset = await visits('webkit-macos', 5, 100, { upset: 100 })
  expect(upset.faults.length).toBeGreaterThan(quiet.faults.length + 10)
  expect(new Set(upset.faults)).toEqual(
    new Set(['the page did not come within 5 s', 'the connection was reset']),
  )
  const hangs = upset.faults.filter((text) => text.includes('did not come')).length
  expect(upset.ms).toBeGreaterThan(hangs * LIMIT_MS)
})

test('calm, nothing goes wrong by chance, and all that it is told to do wrong', async () => {
  const seeds = Array.from({ length: 12 }, (_, seed) => seed)
  const faults = async (calm: boolean, injected: Injected = {}) =>
    (await Promise.all(seeds.map((seed) => visits('ios-handset', seed, 40, injected, calm)))).flatMap(
      (one) => one.faults,
    ).length
  expect(await faults(false)).toBeGreaterThan(0)
  expect(await faults(true)).toBe(0)
  expect(await faults(true, { upset: 100 })).toBeGreaterThan(100)
})

test('an environment made later behaves like an ordinary one', async () => {
  expect(await visits('heron-attic', 9, 5)).toEqual(await visits('lantern-attic', 9, 5))
})

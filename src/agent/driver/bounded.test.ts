import { jest } from '@jest/globals'
import { bounded } from './bounded'
import { DriverFault, type BrowserDriver } from './port'

const GONE = new DriverFault('page', 'the page took its browser down')
const NOTHING = { count: 0, text: '', value: '', states: ['hidden'] }

/** Answers with a page that has nothing on it, or, asked for its title, never. */
function driverOf(broken?: Promise<DriverFault>): BrowserDriver {
  const driver = { look: async () => NOTHING, title: () => new Promise(() => {}), broken }
  return new Proxy(driver, {
    get: (of, name: keyof typeof driver) => of[name] ?? (name === 'broken' ? undefined : async () => {}),
  }) as unknown as BrowserDriver
}

test('what waits for an answer when the browser goes is told why, and all that is asked after that', async () => {
  let go!: (fault: DriverFault) => void
  const driver = bounded(driverOf(new Promise((resolve) => (go = resolve))))
  expect(await driver.look({ text: 'x' })).toEqual(NOTHING)
  const waiting = driver.title()
  go(GONE)
  await expect(waiting).rejects.toBe(GONE)
  await expect(driver.look({ text: 'x' })).rejects.toBe(GONE)
  await driver.close()
})
test('the same when it was ended for what it downloaded; closing ends the watch', async () => {
  const stop = jest.fn()
  const driver = bounded(driverOf(), undefined, { broken: Promise.resolve(GONE), stop })
  await expect(driver.title()).rejects.toBe(GONE)
  await driver.close()
  expect(stop).toHaveBeenCalledTimes(1)
})
test.each([
  ['itself', () => bounded(driverOf(Promise.resolve(GONE)))],
  [
    'what it downloads',
    () => bounded(driverOf(), undefined, { broken: Promise.resolve(GONE), stop: () => {} }),
  ],
])('who asks nothing hears that the browser is gone, too: by %s', async (_, open) => {
  expect(await open().broken).toBe(GONE)
})
test('a picture that comes late does not hurry the next question', async () => {
  jest.useFakeTimers()
  try {
    const slow = async () => {
      await new Promise((resolve) => setTimeout(resolve, 3000))
      return NOTHING
    }
    const driver = bounded(
      new Proxy({} as BrowserDriver, { get: (_, name) => (name === 'broken' ? undefined : slow) }),
    )
    const late = driver.screen()
    await jest.advanceTimersByTimeAsync(1500)
    expect(await late).toBeUndefined()
    const answer = driver.look({ text: 'x' })
    await jest.advanceTimersByTimeAsync(3000)
    expect(await answer).toEqual(NOTHING)
  } finally {
    jest.useRealTimers()
  }
})
test('a picture that a step looks at is waited for longer than one of the log', async () => {
  jest.useFakeTimers()
  try {
    const shot = { bytes: new Uint8Array(1), mime: 'image/jpeg', width: 1, height: 1 }
    const slow = async () => {
      await new Promise((resolve) => setTimeout(resolve, 3000))
      return shot
    }
    const driver = bounded(
      new Proxy({} as BrowserDriver, { get: (_, name) => (name === 'broken' ? undefined : slow) }),
    )
    const pictures = Promise.all([driver.screen(), driver.screen(true), driver.exact!()])
    await jest.advanceTimersByTimeAsync(3000)
    expect(await pictures).toEqual([undefined, shot, shot])
  } finally {
    jest.useRealTimers()
  }
})
test('a title and an address are looked at as far as any text', async () => {
  const long = {
    title: async () => 'x'.repeat(1_000_000),
    url: async () => 'y'.repeat(1_000_000),
    broken: undefined,
  }
  const driver = bounded(
    new Proxy(long, {
      get: (of, name: 'title' | 'broken') => (name in of ? of[name] : async () => {}),
    }) as unknown as BrowserDriver,
  )
  expect([(await driver.title()).length, (await driver.url()).length]).toEqual([200_000, 200_000])
})

/** What is done with what is seen, without a browser. */
import { jest } from '@jest/globals'
import type { Target } from '@/core/model'
import type { ReadWord } from '@/core/vision'
import { DriverFault, type BrowserDriver, type Look } from './port'
import { seeing } from './seeing'

const word = (text: string, x: number, y: number): ReadWord => ({ text, x, y, w: 60, h: 20, sure: 0.9 })
const base64 = (text: string) => Buffer.from(text).toString('base64')
const NOTHING: Look = { count: 0, text: '', value: '', states: ['hidden'] }

/** A page of 400 pixels on a screen of 800, where what is in the page has no text but `inPage`. */
function page({ inPage = [] as string[], screen = true } = {}) {
  let words = [word('Pay', 100, 50), word('now', 170, 50), word('Cancel', 400, 50), word('Cancel', 40, 200)]
  let reads = 0
  let shown = screen
  let reading = async (): Promise<void> => {}
  const done: Target[] = []
  const driver = {
    click: async (target: Target) => {
      done.push(target)
      return { way: target.spot ? 'spot' : 'text' }
    },
    look: async (target: Target): Promise<Look> =>
      target.spot || inPage.includes(target.text ?? '')
        ? { count: 1, text: target.spot ? '' : 'in the page', value: '', states: ['visible', 'enabled'] }
        : NOTHING,
    screen: async () =>
      shown
        ? { bytes: Buffer.from(JSON.stringify(words)), mime: 'image/png', width: 400, height: 300 }
        : undefined,
    url: async () => 'http://ferry.invalid/',
  } as unknown as BrowserDriver
  const eyes = {
    read: async (picture: Uint8Array) => {
      reads++
      await reading()
      return { words: JSON.parse(Buffer.from(picture).toString()) as ReadWord[], width: 800 }
    },
    find: async (_: Uint8Array, patch: Uint8Array) => {
      const found = Buffer.from(patch).toString().split(' ').filter(Boolean).map(Number)
      const places = found.map((x) => ({ x, y: 40, w: 80, h: 20, scale: 1, score: 0.93 }))
      return { places, width: 800 }
    },
    compare: async () => ({ png: new Uint8Array(), width: 800, height: 600, ignore: [] }),
  }
  return {
    driver: seeing(driver, eyes, { deck: base64('200'), gone: base64(''), twice: base64('100 200') }),
    done,
    reads: () => reads,
    /** What goes on while the screen is read. */
    readsFor: (goesOn: () => Promise<void>) => void (reading = goesOn),
    comes: () => void (shown = true),
    show: (next: ReadWord[]) => void (words = next),
  }
}

test('acts at the middle of the words, in pixels of the page', async () => {
  const { driver, done } = page()
  expect(await driver.click({ words: 'pay now' }, 100)).toMatchObject({ way: 'words', sure: 0.9 })
  expect(done[0]!.spot).toMatchObject({ x: 82.5, y: 30, box: { x: 50, y: 25, w: 65, h: 10 } })
})

test('what is found in the page is not looked for on the screen', async () => {
  const { driver, done, reads } = page({ inPage: ['Pay'] })
  expect(await driver.click({ text: 'Pay', words: 'Pay now' }, 100)).toEqual({ way: 'text' })
  expect(done).toEqual([{ text: 'Pay' }])
  expect(reads()).toBe(0)
})

test('a screen that is the same is read once', async () => {
  const { driver, reads, show } = page()
  await driver.look({ words: 'Pay now' })
  await driver.look({ words: 'Cancel' })
  expect(reads()).toBe(1)
  show([word('Paid', 10, 10)])
  expect((await driver.look({ words: 'Pay now' })).count).toBe(0)
  expect(reads()).toBe(2)
})

test('several are counted, and told apart by their number in the order of reading', async () => {
  const { driver, done } = page()
  expect(await driver.look({ words: 'Cancel' })).toMatchObject({ count: 2, states: ['visible'] })
  await expect(driver.click({ words: 'Cancel' }, 1)).rejects.toThrow('2 elements match')
  await driver.click({ words: 'Cancel', number: -1 }, 1)
  expect(done[0]!.spot).toMatchObject({ y: 105 })
  expect((await driver.look({ words: 'Cancel', number: 3 })).count).toBe(0)
})

test('words that are drawn are their own text', async () => {
  expect(await page().driver.look({ words: 'pay now' })).toMatchObject({ count: 1, text: 'Pay now' })
})

test('what came while a screen was read that took all the time is found', async () => {
  const { driver, show, done, readsFor } = page()
  readsFor(async () => {
    show([word('Paid', 100, 50)])
    await new Promise((resolve) => setTimeout(resolve, 30))
  })
  await driver.click({ words: 'Paid' }, 10)
  expect(done).toHaveLength(1)
})

test('waits until they are there, and then says that they are not', async () => {
  const { driver, show, done } = page()
  show([])
  const clicking = driver.click({ words: 'Pay now' }, 5000)
  show([word('Pay', 100, 50), word('now', 170, 50)])
  await clicking
  expect(done).toHaveLength(1)
  await expect(driver.click({ words: 'Sail' }, 1)).rejects.toMatchObject({
    kind: 'target',
    message: 'the writing “Sail” is not on the page',
  })
})

test('what a target is within, beside or under is in the page, and that is said', async () => {
  await expect(page().driver.look({ words: 'Pay now', within: { text: 'Fares' } })).rejects.toThrow(
    'cannot be told by what it is within',
  )
})

test('a picture of the screen that comes a moment later is waited for', async () => {
  const { driver, comes } = page({ screen: false })
  const looking = driver.look({ words: 'Pay now' })
  comes()
  expect(await looking).toMatchObject({ count: 1 })
})

test('where there is no picture, that is said', async () => {
  jest.useFakeTimers()
  const told = expect(page({ screen: false }).driver.look({ words: 'Pay' })).rejects.toThrow(DriverFault)
  await jest.advanceTimersByTimeAsync(10_000)
  jest.useRealTimers()
  await told
})

test('a picture is found before words are read; where it is not, words are', async () => {
  const { driver, done, reads } = page()
  expect(await driver.click({ picture: 'deck', words: 'Pay now' }, 100)).toMatchObject({
    way: 'picture',
    sure: 0.93,
    box: { x: 100, y: 20, w: 40, h: 10 },
  })
  expect(reads()).toBe(0)
  expect(await driver.click({ picture: 'gone', words: 'Pay now' }, 100)).toMatchObject({ way: 'words' })
  expect(done).toHaveLength(2)
})

test('places of a picture are told without words', async () => {
  const { driver } = page()
  await expect(driver.click({ picture: 'twice' }, 1)).rejects.toThrow(
    '2 elements match, one was expected (at 70, 25; at 120, 25)',
  )
})

test('a picture that nobody kept is told by its name', async () => {
  await expect(page().driver.click({ picture: 'ferry' }, 100)).rejects.toThrow('there is no picture “ferry”')
})

test('all else is the driver’s own', async () => {
  expect(await page().driver.url()).toBe('http://ferry.invalid/')
})

test('the lines that are read on a part of the screen, in pixels of the page', async () => {
  const { driver, reads } = page()
  expect(await driver.linesIn!({ x: 0, y: 0, w: 400, h: 60 })).toEqual(['Pay now Cancel'])
  expect(await driver.linesIn!({ x: 0, y: 0, w: 90, h: 300 })).toEqual(['Pay', 'Cancel'])
  expect(await driver.linesIn!({ x: 300, y: 200, w: 50, h: 50 })).toEqual([])
  expect(reads()).toBe(1)
})

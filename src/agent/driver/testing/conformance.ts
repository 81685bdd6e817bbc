/** One behaviour, proven for every implementation of the port: the same pages, the same expectations. Each
 * implementation has a test file that calls `conform`, so that they share the cores. */
import type { Server } from 'node:http'
import type { AddressInfo } from 'node:net'
import type { Environment, Target } from '@/core/model'
import { DriverFault, type BrowserDriver } from '../port'
import { servePages } from './pages'

/** What must succeed may take long on a busy machine; what must fail should fail soon. */
export const PATIENT_MS = 15_000
const SHORT_MS = 700
/** The first start of a browser on a cold machine. */
const START_MS = 60_000
export const environment: Environment = {
  key: 'test',
  title: 'Test',
  browser: 'B',
  os: 'O',
  width: 800,
  height: 600,
  locale: 'en-GB',
  simulated: true,
  userAgent: 'ConformanceAgent/1',
}

/** The pages, served while the tests of a file run. @returns their address, once they are there */
export function pagesOfTests(): () => string {
  let server: Server
  beforeAll(async () => void (server = await servePages()))
  afterAll(() => {
    server.closeAllConnections()
    server.close()
  })
  return () => `http://127.0.0.1:${(server.address() as AddressInfo).port}`
}

export async function until(holds: () => Promise<boolean>): Promise<void> {
  for (const end = Date.now() + PATIENT_MS; Date.now() < end && !(await holds());)
    await new Promise((resolve) => setTimeout(resolve, 20))
}

/** What an implementation cannot do, since its browser or its protocol has no way: tell the status of a page
 * and take a name for itself (`silent`), ask by dialogs, record a video. */
type Lacks = { silent?: boolean; askless?: boolean; filmless?: boolean }

/** @param open one session, for all tests: each begins by opening a page of its own */
export function conform(
  name: string,
  open: () => Promise<BrowserDriver>,
  { silent = false, askless = false, filmless = false }: Lacks = {},
): void {
  describe(`the ${name} driver`, () => {
    const base = pagesOfTests()
    let driver: BrowserDriver
    beforeAll(async () => void (driver = await open()), START_MS)
    beforeEach(() => void driver.takeLog())
    afterAll(() => driver.close())
    const at = (path: string) => driver.open(base() + path, PATIENT_MS)
    /** Once it is there: an action does not promise that the page it leads to has come, what looks next waits
     * for it. */
    const arrival = async (target: Target) => {
      await until(async () => (await driver.look(target)).count > 0)
      return driver.look(target)
    }
    const text = async (testId: string) => (await arrival({ testId })).text.trim()

    test('fills a form and sends it', async () => {
      await at('/')
      expect(await driver.type({ label: 'Name' }, 'Isla', PATIENT_MS)).toMatchObject({
        way: 'label',
        masked: false,
      })
      expect(await driver.type({ label: 'Secret' }, 'pst', PATIENT_MS)).toMatchObject({ masked: true })
      await driver.choose({ label: 'Port' }, 'Tolva', PATIENT_MS)
      await driver.choose({ label: 'Agree' }, 'yes', PATIENT_MS)
      await driver.click({ role: 'button', name: 'Send' }, PATIENT_MS)
      expect(await text('got')).toBe('name=Isla secret=pst port=T tick=yes hidden=h')
      expect(await driver.url()).toContain('/sent?name=Isla')
    })
    test('sends with the Enter key, follows links', async () => {
      await at('/')
      await driver.type({ placeholder: 'your name' }, 'Bo', PATIENT_MS)
      await driver.press('Enter', { placeholder: 'your name' }, PATIENT_MS)
      expect(await text('got')).toContain('name=Bo')
      await at('/')
      await driver.click({ text: 'Second page' }, PATIENT_MS)
      expect((await arrival({ role: 'heading', name: 'Second' })).count).toBe(1)
    })
    test('finds by each way, and says which way held', async () => {
      await at('/')
      for (const [way, target] of Object.entries({
        testId: { testId: 'note' },
        role: { role: 'link', name: 'Second page' },
        label: { label: 'Name' },
        placeholder: { placeholder: 'your name' },
        text: { text: 'some text' },
        css: { css: 'h1' },
      })) {
        expect(await driver.look(target)).toMatchObject({ count: 1, found: { way } })
      }
      expect(await driver.click({ testId: 'gone', text: 'Second page' }, PATIENT_MS)).toMatchObject({
        way: 'text',
      })
    })
    test('looks: values, states, counts, what is not there', async () => {
      await at('/')
      await driver.choose({ label: 'Agree' }, 'yes', PATIENT_MS)
      await driver.type({ label: 'Name' }, 'x', PATIENT_MS)
      expect((await driver.look({ label: 'Agree' })).states).toContain('checked')
      expect((await driver.look({ label: 'Name' })).value).toBe('x')
      expect((await driver.look({ role: 'listitem' })).count).toBe(2)
      expect(await driver.look({ testId: 'gone' })).toMatchObject({ count: 0, states: ['hidden'] })
    })
    test('a choice that is not offered is named with what is', async () => {
      await at('/')
      await expect(driver.choose({ label: 'Port' }, 'Atlantis', SHORT_MS)).rejects.toMatchObject({
        kind: 'target',
        message: 'there is no choice “Atlantis”; there is: Skerrow, Tolva',
      })
    })
    test('nothing, or too much, is a fault of the target', async () => {
      await at('/')
      await expect(driver.click({ role: 'button', name: 'Gone' }, SHORT_MS)).rejects.toMatchObject({
        kind: 'target',
        message: 'Gone is not on the page',
      })
      await expect(driver.click({ role: 'listitem' }, SHORT_MS)).rejects.toMatchObject({
        kind: 'target',
        message: expect.stringContaining('2 elements match') as string,
      })
    })
    test('works inside frames, and a frame may lead the whole page on', async () => {
      await at('/frame')
      await driver.type({ label: 'Card' }, '5555', PATIENT_MS)
      await driver.click({ role: 'button', name: 'Pay' }, PATIENT_MS)
      expect(await text('got')).toBe('card=5555')
    })
    test('a dialog over the page stops what is under it, not what is in it', async () => {
      await at('/dialog')
      expect(await driver.openDialog()).toBe('Storm notice')
      await expect(driver.click({ role: 'button', name: 'Under' }, SHORT_MS)).rejects.toMatchObject({
        kind: 'dialog',
        message: 'a dialog “Storm notice” is open over the page',
      })
      await driver.click({ role: 'button', name: 'Understood' }, PATIENT_MS)
    })
    test('what is covered cannot be clicked, and the cover is named', async () => {
      await at('/covered')
      await expect(driver.click({ role: 'button', name: 'Board' }, SHORT_MS)).rejects.toMatchObject({
        kind: 'target',
        message: 'it is covered: the point belongs to footer.notice',
      })
    })
    test('a page that answers 500, and one that is not there at all', async () => {
      if (!silent)
        await expect(at('/broken')).rejects.toMatchObject({ kind: 'page', message: 'the page answers 500' })
      await expect(driver.open('http://127.0.0.1:1/', SHORT_MS)).rejects.toBeInstanceOf(DriverFault)
    })
    test('keeps cookies over a redirect, and says who it is', async () => {
      await at('/set')
      expect(await text('cookie')).toBe('seen=yes')
      await at('/agent')
      expect(await text('agent')).toMatch(silent ? /AppleWebKit/ : /^ConformanceAgent\/1$/)
    })
    test('logs requests with their status, once', async () => {
      await at('/second')
      const log = driver
        .takeLog()
        .filter((entry) => entry.type === 'request' && entry.url.endsWith('/second'))
      expect(log).toMatchObject([{ method: 'GET', status: silent ? -1 : 200 }])
      expect(
        driver.takeLog().filter((entry) => entry.type === 'request' && entry.url.endsWith('/second')),
      ).toEqual([])
    })
    test('gives a screen of the environment’s size, and the place of what it finds', async () => {
      await at('/')
      const screen = (await driver.screen())!
      expect(screen).toMatchObject({ width: 800, height: 600, mime: 'image/jpeg' })
      expect(Buffer.from(screen.bytes.slice(0, 3)).toString('hex')).toBe('ffd8ff')
      expect((await driver.click({ text: 'Second page' }, PATIENT_MS)).box).toMatchObject({
        w: expect.any(Number) as number,
      })
    })
    test('hovers, drags, scrolls; gives files, takes files; reads titles and attributes', async () => {
      await at('/more')
      expect(await driver.hover({ text: 'Boarding card' }, PATIENT_MS)).toMatchObject({ way: 'text' })
      expect(await driver.drag({ text: 'Boarding card' }, { testId: 'foot' }, PATIENT_MS)).toMatchObject({
        way: 'text',
      })
      await driver.scroll({ to: { testId: 'foot' } }, PATIENT_MS)
      await driver.scroll({ by: -400 }, PATIENT_MS)
      expect(await driver.title()).toBe('t')
      expect(await driver.attribute({ text: 'Boarding card' }, 'title')).toBe('Your card')
      expect(await driver.attribute({ text: 'Boarding card' }, 'gone')).toBeUndefined()
      await driver.click({ text: 'Boarding card' }, PATIENT_MS)
      await until(async () => (await driver.downloads()).length > 0)
      expect(await driver.downloads()).toEqual(['boarding-card.txt'])
      await driver.upload({ label: 'File' }, { name: 'list.csv', text: 'a,b' }, PATIENT_MS)
      await driver.click({ role: 'button', name: 'Send' }, PATIENT_MS)
      expect(await text('got')).toBe('file=list.csv pin=')
    })
    test('opens the next page after one that did not come, and after a file was taken', async () => {
      await expect(driver.open('http://127.0.0.1:1/', SHORT_MS)).rejects.toBeInstanceOf(DriverFault)
      await at('/more')
      const before = (await driver.downloads()).length
      await driver.click({ text: 'Boarding card' }, PATIENT_MS)
      await until(async () => (await driver.downloads()).length > before)
      await at('/second')
      expect((await driver.look({ role: 'heading', name: 'Second' })).count).toBe(1)
    })
    test('files go into fields for files only', async () => {
      await at('/more')
      await expect(
        driver.upload({ label: 'Pin' }, { name: 'list.csv', text: 'a' }, SHORT_MS),
      ).rejects.toMatchObject({ kind: 'target' })
    })
    test('answers the next dialog of the browser, where the browser has any', async () => {
      await at('/asks')
      await driver.answerDialog(true, 'Tolva')
      await driver.click({ role: 'button', name: 'Ask' }, PATIENT_MS)
      if (!askless) expect(await text('said')).toBe('Tolva')
      expect(await driver.openDialog()).toBeUndefined()
    })
    test('records a video, or says that it does not', async () => {
      await at('/')
      await driver.click({ text: 'Second page' }, PATIENT_MS)
      const video = await driver.stopVideo()
      if (filmless) return expect(video).toBeUndefined()
      expect(Buffer.from(video!.bytes.slice(0, 4)).toString('hex')).toBe('1a45dfa3') // EBML: WebM
    })
  })
}

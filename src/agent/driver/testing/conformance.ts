/** The conformance suite of the driver port: the same pages and the same expectations for every
 * implementation. Each implementation has a test file of its own that calls `conform`, so that Jest runs
 * them in parallel. */
import type { Server } from 'node:http'
import type { AddressInfo } from 'node:net'
import type { Clicking, Conditions, Environment, Target } from '@/core/model'
import { eyesHere } from '../../eyes/port'
import { DriverFault, type BrowserDriver, type LogEntry } from '../port'
import { seeing } from '../seeing'
import { conformBeyond } from './beyond'
import { conformConcealing } from './concealed'
import { conformWithLibraries } from './libraries'
import { LACKS, type DriverName, type Feature } from './features'
import { servePages } from './pages'
import { PICTURES } from './seen'
import { PATIENT_MS, SHORT_MS, until } from './patience'

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

const CONDITIONS: [Feature, Conditions][] = [
  ['zone', { timeZone: 'Pacific/Auckland' }],
  ['colours', { colours: 'dark' }],
  ['location', { location: { latitude: 57.25, longitude: -6.5 } }],
  ['camera', { camera: true }],
]
/** With every condition that a driver can be given. */
export const environmentOf = (name: DriverName): Environment =>
  Object.assign(
    { ...environment },
    ...CONDITIONS.flatMap(([feature, condition]) => (LACKS[name][feature] ? [] : [condition])),
  ) as Environment

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

/** @param open one session, for all tests: each begins by opening a page of its own */
export function conform(name: DriverName, open: () => Promise<BrowserDriver>): void {
  describe(`the ${name} driver`, () => {
    const base = pagesOfTests()
    let driver: BrowserDriver
    beforeAll(async () => void (driver = seeing(await open(), eyesHere(), PICTURES)), START_MS)
    beforeEach(() => void driver.takeLog())
    afterAll(() => driver.close())
    const at = (path: string) => driver.open(base() + path, PATIENT_MS)
    /** Once it is there: an action does not promise that the page it leads to has come, what looks next waits
     * for it. */
    const arrival = async (target: Target) => {
      await until(async () => (await driver.look(target)).count > 0)
      return driver.look(target)
    }
    const has = (feature: Feature) => LACKS[name][feature] === undefined
    /** A test of a feature, where this driver has it. */
    const of = (feature: Feature, what: string, carryOut: () => Promise<void>) =>
      (has(feature) ? test : test.skip)(`${feature}: ${what}`, carryOut)
    const text = async (testId: string) => (await arrival({ testId })).text.trim()

    of('form', 'fills a form and sends it', async () => {
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
    of('keys', 'sends with the Enter key, follows links', async () => {
      await at('/')
      await driver.type({ placeholder: 'your name' }, 'Bo', PATIENT_MS)
      await driver.press('Enter', { placeholder: 'your name' }, PATIENT_MS)
      expect(await text('got')).toContain('name=Bo')
      await at('/')
      await driver.click({ text: 'Second page' }, PATIENT_MS)
      expect((await arrival({ role: 'heading', name: 'Second' })).count).toBe(1)
    })
    of('targets', 'finds by each way, and says which way held', async () => {
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
    of('form', 'looks: values, states, counts, what is not there', async () => {
      await at('/')
      await driver.choose({ label: 'Agree' }, 'yes', PATIENT_MS)
      await driver.type({ label: 'Name' }, 'x', PATIENT_MS)
      expect((await driver.look({ label: 'Agree' })).states).toContain('checked')
      expect((await driver.look({ label: 'Name' })).value).toBe('x')
      expect((await driver.look({ role: 'listitem' })).count).toBe(2)
      expect(await driver.look({ testId: 'gone' })).toMatchObject({ count: 0, states: ['hidden'] })
    })
    of('shadow', 'finds and acts within open shadow roots, by each way', async () => {
      await at('/shadow')
      for (const [way, target] of Object.entries({
        testId: { testId: 'inner' },
        role: { role: 'heading', name: 'Cabin' },
        label: { label: 'Berth' },
        placeholder: { placeholder: 'A1' },
        text: { text: 'two berths' },
        css: { css: 'li:first-child' },
      }))
        expect(await driver.look(target)).toMatchObject({ count: 1, found: { way } })
      expect((await driver.look({ role: 'listitem' })).count).toBe(2)
      await driver.type({ label: 'Berth' }, 'B7', PATIENT_MS)
      expect((await driver.look({ label: 'Berth' })).value).toBe('B7')
      await driver.click({ role: 'button', name: 'Take it' }, PATIENT_MS)
      expect(await text('said')).toBe('taken B7')
      expect(await driver.source()).toContain('two berths')
    })
    of('editors', 'writes into an editor, over what is there, and empties it', async () => {
      await at('/editor')
      await driver.type({ role: 'textbox', name: 'Log entry' }, 'wind from the west', PATIENT_MS)
      expect(await text('said')).toBe('wind from the west')
      await driver.type({ role: 'textbox', name: 'Log entry' }, '', PATIENT_MS)
      expect(await text('said')).toBe('')
    })
    of('frames', 'the source of a page has that of its frames', async () => {
      await at('/frame')
      await until(async () => (await driver.source()).includes('name="card"'))
      expect(await driver.source()).toContain('name="card"')
    })
    of('form', 'a choice that is not offered is named with what is', async () => {
      await at('/')
      await expect(driver.choose({ label: 'Port' }, 'Atlantis', SHORT_MS)).rejects.toMatchObject({
        kind: 'target',
        message: 'there is no choice “Atlantis”; there is: Skerrow, Tolva',
      })
    })
    of('targets', 'nothing, or too much, is a fault of the target', async () => {
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
    of('match', 'texts are compared whole, in part or by a pattern', async () => {
      await at('/several')
      const count = async (target: Target) => (await driver.look(target)).count
      expect(await count({ text: 'Cabin 12 B' })).toBe(0)
      expect(await count({ text: 'Cabin 12 B', match: 'part' })).toBe(1)
      expect(await count({ text: 'cabin 12 b', match: 'part' })).toBe(0)
      expect(await count({ text: 'Cabin * A, deck *', match: 'pattern' })).toBe(1)
      expect(await count({ text: 'Cabin * deck 4', match: 'pattern' })).toBe(2)
      expect(await count({ role: 'button', name: 'Book', match: 'part' })).toBe(2)
      expect(await count({ placeholder: 'berths', match: 'part' })).toBe(1)
    })
    of('several', 'of several: by what it is within, and by its number', async () => {
      await at('/several')
      const book: Target = { role: 'button', name: 'Book now' }
      const look = (more: Target) => driver.look({ ...book, ...more })
      expect(await look({ within: { css: 'section:nth-of-type(2)' } })).toMatchObject({ count: 1 })
      expect((await look({ within: { text: 'nowhere' } })).count).toBe(0)
      expect((await look({ number: 3 })).count).toBe(0)
      expect(await look({ number: -1 })).toMatchObject({ count: 1, found: { way: 'role' } })
      expect((await driver.look({ text: 'Cabin', match: 'part', number: 1 })).text).toContain('12 B')
    })
    of('layout', 'of several: by what it is beside or under', async () => {
      await at('/several')
      const book: Target = { role: 'button', name: 'Book now' }
      await driver.click({ ...book, beside: { text: 'Tolva', match: 'part' } }, PATIENT_MS)
      await expect(driver.look({ ...book, under: { role: 'heading' } })).resolves.toMatchObject({ count: 1 })
      await driver.click({ ...book, under: { role: 'heading' } }, PATIENT_MS)
      expect(await text('said')).toBe('Morning')
      expect((await driver.look({ ...book, under: { testId: 'cabin' } })).count).toBe(0)
    })
    of('layout', 'several that match are listed with what tells them apart', async () => {
      await at('/several')
      const one = 'button “Book now” at \\d+, \\d+'
      await expect(driver.click({ role: 'button', name: 'Book now' }, SHORT_MS)).rejects.toMatchObject({
        kind: 'target',
        message: expect.stringMatching(
          new RegExp(
            `^Book now: 2 elements match, one was expected \\(no\\. 1: ${one}; no\\. 2: ${one}\\); say which`,
          ),
        ) as string,
      })
    })
    of('clicks', 'clicks twice, with another button, with a key held, and holds', async () => {
      const button: Target = { role: 'button', name: 'Press' }
      const clicked = async (how: Clicking) => {
        await at('/clicks')
        await driver.click(button, PATIENT_MS, how)
        return text('said')
      }
      expect(await clicked({ times: 2 })).toContain('twice')
      expect(await clicked({ button: 'right' })).toContain('menu')
      expect(await clicked({ with: ['Shift'] })).toBe('shift')
      expect(await clicked({ holdMs: 500 })).toBe('held')
      expect(await clicked({})).toBe('-')
    })
    of(
      'history',
      'goes back and forward, loads again; and says where there is nothing to go to',
      async () => {
        await at('/')
        await driver.click({ text: 'Second page' }, PATIENT_MS)
        await arrival({ role: 'heading', name: 'Second' })
        await driver.go('back', PATIENT_MS)
        expect((await arrival({ role: 'heading', name: 'Start' })).count).toBe(1)
        await driver.go('forward', PATIENT_MS)
        expect((await arrival({ role: 'heading', name: 'Second' })).count).toBe(1)
        await expect(driver.go('forward', SHORT_MS)).rejects.toMatchObject({
          kind: 'page',
          message: 'there is no page to go forward to',
        })
        await at('/count')
        await driver.go('reload', PATIENT_MS)
        if (has('clicks')) expect(await text('said')).toBe('loaded 2')
      },
    )
    of('windows', 'goes on in a window that opened, closes it, and is back in the first', async () => {
      await at('/windows')
      await driver.click({ text: 'Second in a window' }, PATIENT_MS)
      await until(async () => (await driver.windows()).length === 2)
      await driver.showWindow(1, PATIENT_MS)
      expect((await arrival({ role: 'heading', name: 'Second' })).count).toBe(1)
      expect(await driver.url()).toContain('/second')
      await driver.showWindow(0, PATIENT_MS)
      expect((await driver.look({ role: 'heading', name: 'Windows' })).count).toBe(1)
      await driver.showWindow(1, PATIENT_MS)
      await driver.closeWindow(PATIENT_MS)
      expect((await driver.look({ role: 'heading', name: 'Windows' })).count).toBe(1)
      expect(await driver.windows()).toHaveLength(1)
      await expect(driver.closeWindow(SHORT_MS)).rejects.toMatchObject({ kind: 'script' })
    })
    of('frames', 'works inside frames, and a frame may lead the whole page on', async () => {
      await at('/frame')
      await driver.type({ label: 'Card' }, '5555', PATIENT_MS)
      await driver.click({ role: 'button', name: 'Pay' }, PATIENT_MS)
      expect(await text('got')).toBe('card=5555')
    })
    of('overlays', 'a dialog over the page stops what is under it, not what is in it', async () => {
      await at('/dialog')
      expect(await driver.openDialog()).toBe('Storm notice')
      await expect(driver.click({ role: 'button', name: 'Under' }, SHORT_MS)).rejects.toMatchObject({
        kind: 'dialog',
        message: 'a dialog “Storm notice” is open over the page',
      })
      await driver.click({ role: 'button', name: 'Understood' }, PATIENT_MS)
    })
    of('overlays', 'what is covered cannot be clicked, and the cover is named', async () => {
      await at('/covered')
      await expect(driver.click({ role: 'button', name: 'Board' }, SHORT_MS)).rejects.toMatchObject({
        kind: 'target',
        message: 'it is covered: the point belongs to footer.notice',
      })
    })
    of('status', 'a page that answers 500', async () => {
      await expect(at('/broken')).rejects.toMatchObject({ kind: 'page', message: 'the page answers 500' })
    })
    of('form', 'a page that is not there at all', async () => {
      await expect(driver.open('http://127.0.0.1:1/', SHORT_MS)).rejects.toBeInstanceOf(DriverFault)
    })
    of('form', 'keeps cookies over a redirect', async () => {
      await at('/set')
      expect(await text('cookie')).toBe('seen=yes')
    })
    of('agent', 'says who it is', async () => {
      await at('/agent')
      expect(await text('agent')).toBe('ConformanceAgent/1')
    })
    const requestsOf = (path: string) =>
      driver.takeLog().filter((entry) => entry.type === 'request' && entry.url.endsWith(path))
    of('status', 'logs requests with their status', async () => {
      await at('/second')
      expect(requestsOf('/second')).toMatchObject([{ method: 'GET', status: 200 }])
    })
    /** Browsers may ask for an icon as well, which is not there. */
    const isBroken = (entry: LogEntry) => entry.type === 'exchange' && entry.url.endsWith('/broken')
    of('exchanges', 'keeps headers and bodies of a request that failed', async () => {
      await at('/broken').catch(() => {})
      await driver.settled?.()
      const log = driver.takeLog()
      const asked = log.find((entry) => entry.type === 'request' && entry.status === 500)!
      const exchange = log.find(isBroken)
      expect(exchange).toMatchObject({ askedAtMs: asked.atMs, url: `${base()}/broken` })
      expect(exchange).toHaveProperty('text', expect.stringMatching(/GET [^]*500[^]*down/))
    })
    of('exchanges', 'keeps what a page sent with a request that failed', async () => {
      await at('/posts')
      await driver.click({ role: 'button', name: 'Ask' }, PATIENT_MS).catch(() => {})
      const log: LogEntry[] = []
      await until(async () => {
        await driver.settled?.()
        log.push(...driver.takeLog())
        return log.some(isBroken)
      })
      const exchange = log.find(isBroken)
      expect(exchange).toHaveProperty('text', expect.stringMatching(/POST [^]*crossing=24[^]*500/))
    })
    of('form', 'logs requests, once', async () => {
      await at('/second')
      expect(requestsOf('/second')).toHaveLength(1)
      expect(requestsOf('/second')).toEqual([])
    })
    of('screens', 'gives a screen of the environment’s size, and the place of what it finds', async () => {
      await at('/')
      const screen = (await driver.screen())!
      expect(screen).toMatchObject({ width: 800, height: 600, mime: 'image/jpeg' })
      expect(Buffer.from(screen.bytes.slice(0, 3)).toString('hex')).toBe('ffd8ff')
      expect((await driver.click({ text: 'Second page' }, PATIENT_MS)).box).toMatchObject({
        w: expect.any(Number) as number,
      })
    })
    const around = { of, at, text, driver: () => driver, another: open, stores: name !== 'simulated' }
    conformBeyond(around)
    conformConcealing(around)
    conformWithLibraries(around)
  })
}

import { createServer } from 'node:http'
import type { AddressInfo } from 'node:net'
import sharp from 'sharp'
import { openChromium } from '../../chromium/open'
import { BrowserHolder } from '../../chromium/browser'
import { realPace, type BrowserDriver } from '../port'
import { environment } from '../testing/conformance'
import { PATIENT_MS, until } from '../testing/patience'
import { enginesOfTests, SteeredBrowser } from '../testing/steered'

const PAGE = `<!doctype html><title>Find a crossing</title><style>body { font: 16px sans-serif }</style>
<form action="/found">
<p><label>Passengers <input name="passengers" value="1"></label>
<p><label>To <select name="to"><option value="t">Tolva</option><option value="q">Quillhaven</option></select></label>
<p><label><input type="checkbox" name="back"> Return crossing</label>
<p><label>Password <input type="password" name="word"></label>
<p><button id="go">Find sailings</button></form>
<p><label>Boarding card <input type="file" name="card" onchange="document.title = files[0].type + ' ' + files[0].size"></label>
<button id="storm">Storm</button><button id="toll">Toll</button>
<button id="wave">Wave</button><p id="tide" style="font-size: 40px">low</p>
<script>let first = true; addEventListener('submit', (e) => { if (first) e.preventDefault(); first = false })
setTimeout(() => document.querySelector('#go').click(), 0)
let rounds = 0
storm.onclick = () => { for (let i = 0; i < 60; i++) confirm('storm ' + i); document.title = 'over' }
toll.onclick = () => { tide.textContent = 'toll ' + prompt('How many?', '2') }
wave.onclick = () => { let left = 20; rounds++
  const turn = () => {
    tide.textContent = left > 0 ? 'high '.repeat(left % 7) + left : 'at rest ' + rounds
    if (left-- > 0) requestAnimationFrame(turn)
  }
  turn() }</script>`

/** A frame of another site, and one of the same. */
const framed = (site: string) => `<!doctype html><title>Framed</title><body style="margin: 0">
<h1 style="height: 60px; margin: 0">Quays</h1><iframe title="Quays" style="border: 0" src="${site}"></iframe>`
const leading = (site: string) => `<!doctype html><title>Berths</title><form action="${site}">
<label>Berth <input name="berth"></label> <button>Find a berth</button></form>`
const QUAY = `<!doctype html><body style="margin: 0"><p><label>Quay <select name="quay"><option>North</option>
<option>South</option></select></label> <button id="moor">Moor</button>`

const STRAND = `<!doctype html><body style="height: 3000px"><button>Anchor</button><p id="by"></p>
<script>addEventListener('pointerdown', ({ pointerType }) => (by.textContent = pointerType))</script>`

const BERTHS = `<!doctype html><button id="north">Take</button> <button id="south">Take</button>
<button id="leave">Leave</button><script>for (const one of [north, south]) one.onclick = () => one.remove()</script>`

const ENGINES = enginesOfTests()
const pages = createServer((request, response) => {
  response.setHeader('content-type', 'text/html')
  if (request.url!.startsWith('/framed')) return response.end(framed(request.url!.slice('/framed'.length)))
  if (request.url!.startsWith('/away')) return response.end(leading(request.url!.slice('/away/'.length)))
  if (request.url!.startsWith('/quay')) return response.end(QUAY)
  if (request.url!.startsWith('/berths')) return response.end(BERTHS)
  if (request.url!.startsWith('/strand')) return response.end(STRAND)
  response.end(request.url!.startsWith('/found') ? '<title>Found</title><h1>Sailings</h1>' : PAGE)
})
beforeAll(() => new Promise<void>((resolve) => pages.listen(0, '127.0.0.1', resolve)))
afterAll(async () => {
  pages.close()
  for (const engine of ENGINES) await engine.close()
})

let browser: SteeredBrowser
const begin = async (open: () => Promise<BrowserDriver>) => {
  const { port } = pages.address() as AddressInfo
  browser = await SteeredBrowser.open(open, `http://127.0.0.1:${port}/`)
}
afterEach(() => browser.close())

const look = async (picture: Uint8Array, { x, y, w, h }: { x: number; y: number; w: number; h: number }) =>
  sharp(picture).extract({ left: x, top: y, width: w, height: h }).greyscale().raw().toBuffer()

for (const { name, isHere, open, kill } of ENGINES)
  (isHere ? describe : describe.skip)(name, () => {
    beforeEach(() => begin(open))

    test('what a person does becomes steps, also what leads to another page at once', async () => {
      await browser.click({ label: 'Passengers' })
      await browser.live.input({ do: 'key', type: 'down', key: 'End', code: 'End', with: [] })
      await browser.live.input({ do: 'key', type: 'down', key: 'Backspace', code: 'Backspace', with: [] })
      await browser.type('3')
      await browser.click({ label: 'Return crossing' })
      await browser.click({ label: 'Password' })
      await browser.type('low-tide')
      await browser.click({ role: 'button', name: 'Find sailings' })
      await until(async () => browser.steps().length === 4)
      expect(browser.steps()).toEqual([
        { type: { in: { label: 'Passengers', css: 'input[name="passengers"]' }, value: '3' } },
        { choose: { in: { label: 'Return crossing', css: 'input[name="back"]' }, value: 'yes' } },
        { type: { in: { label: 'Password', css: 'input[name="word"]' }, value: '${secret.PASSWORD}' } },
        { click: { on: { role: 'button', name: 'Find sailings', css: '#go' } } },
      ])
      expect(JSON.stringify(browser.events)).not.toContain('low-tide')
      await until(async () => (await browser.driver.title()) === 'Found')
      expect(await browser.driver.title()).toBe('Found')
    })

    for (const [how, leave] of [
      ['a click', () => browser.click({ role: 'button', name: 'Find a berth' })],
      ['a key', () => browser.press('Enter')],
    ] as const)
      test(`${how} that leads to another site at once is recorded`, async () => {
        const { port } = pages.address() as AddressInfo
        const there = `http://127.0.0.1:${port}/away/http://localhost:${port}/found`
        const write = async (text: string) => {
          await browser.driver.open(there, PATIENT_MS)
          await browser.click({ label: 'Berth' })
          await browser.type(text)
        }
        await write('7')
        await leave()
        await until(async () => (await browser.driver.title()) === 'Found')
        await until(async () => browser.steps().length === 2)
        // what led away is not told once more by the page that is come back to
        await write('8')
        await until(async () => JSON.stringify(browser.steps()).includes('"8"'))
        const berth = { label: 'Berth', css: 'input[name="berth"]' }
        expect(browser.steps()).toEqual([
          { type: { in: berth, value: '7' } },
          how === 'a key'
            ? { press: { key: 'Enter', on: berth } }
            : {
                click: { on: { role: 'button', name: 'Find a berth', css: 'form[action$="/found"] button' } },
              },
          { type: { in: berth, value: '8' } },
        ])
      })

    test('a name that stood there twice before is not what a step finds an element by', async () => {
      const { port } = pages.address() as AddressInfo
      await browser.driver.open(`http://127.0.0.1:${port}/berths`, PATIENT_MS)
      await browser.click({ css: '#north' })
      await until(async () => browser.steps().length === 1)
      // it came to where the first one was: browsers count that as the second of a double click
      await browser.click({ css: '#south' }, 2)
      await browser.click({ css: '#leave' })
      await until(async () => browser.steps().length === 3)
      expect(browser.steps()).toEqual([
        { click: { on: { css: '#north' } } },
        { click: { on: { css: '#south' } } },
        { click: { on: { role: 'button', name: 'Leave', css: '#leave' } } },
      ])
    })

    test('a click that a script makes is nobody’s', async () => {
      await browser.click({ label: 'Passengers' })
      await until(async () => browser.events.length > 0)
      expect(browser.events.filter(({ kind }) => kind === 'click')).toHaveLength(1)
    })

    test('a list that the browser would draw itself is told, and chosen from', async () => {
      await browser.click({ label: 'To' })
      await until(async () => browser.list !== null)
      expect(browser.list!.options.map(({ label, chosen }) => [label, chosen])).toEqual([
        ['Tolva', true],
        ['Quillhaven', false],
      ])
      await browser.live.choose(['q'])
      expect((await browser.driver.look({ label: 'To' })).value).toBe('q')
      await until(async () => browser.steps().length === 1)
      expect(browser.steps()).toEqual([
        { choose: { in: { label: 'To', css: 'select[name="to"]' }, value: 'Quillhaven' } },
      ])
      expect(browser.list).toBeNull()
    })

    for (const [where, isOther] of [
      ['of the same site', false],
      ['of another site', true],
    ] as const)
      test(`what is done in a frame ${where} is recorded, and its browser.list is drawn at its place`, async () => {
        const { port } = pages.address() as AddressInfo
        const site = isOther ? `http://localhost:${port}/quay` : '/quay'
        await browser.driver.open(`http://127.0.0.1:${port}/framed${site}`, PATIENT_MS)
        await until(async () => (await browser.driver.look({ css: '#moor' })).count === 1)
        await browser.click({ css: '#moor' })
        await until(async () => browser.steps().length === 1)
        expect(browser.steps()).toEqual([{ click: { on: { role: 'button', name: 'Moor', css: '#moor' } } }])
        const at = await browser.middle({ css: '#moor' })
        const facts = await browser.live.factsAt(at.x, at.y)
        expect(facts).toMatchObject({ tag: 'button', name: 'Moor', counts: { role: 1, css: 1 } })
        expect(Math.abs(facts!.box!.y + facts!.box!.h / 2 - at.y)).toBeLessThan(3)
        await browser.click({ label: 'Quay' })
        await until(async () => browser.list !== null)
        const drawn = (await browser.driver.look({ label: 'Quay' })).found!.box!
        expect(Math.abs(browser.list!.box.y - drawn.y)).toBeLessThan(3)
        await browser.live.choose(['South'])
        await until(async () => browser.steps().length === 2)
        expect(browser.steps()[1]).toEqual({
          choose: { in: { label: 'Quay', css: 'select[name="quay"]' }, value: 'South' },
        })
      })

    test('what is at a point is told: how it is found, and how often', async () => {
      const at = await browser.middle({ role: 'button', name: 'Find sailings' })
      expect(await browser.live.factsAt(at.x, at.y)).toMatchObject({
        tag: 'button',
        role: 'button',
        name: 'Find sailings',
        counts: { role: 1, text: 1, css: 1 },
        value: 'Find sailings',
      })
    })

    test('pictures come while something changes', async () => {
      await until(async () => browser.frames > 0)
      expect(browser.frames).toBeGreaterThan(0)
      await browser.click({ label: 'Passengers' })
      const before = browser.frames
      await browser.type('12')
      await until(async () => browser.frames > before)
      expect(browser.frames).toBeGreaterThan(before)
    })

    test('the last of many pictures is what is there then', async () => {
      const { box } = (await browser.driver.look({ css: '#tide' })).found!
      for (let round = 1; round <= 6; round++) {
        await browser.click({ role: 'button', name: 'Wave' })
        await until(async () => (await browser.driver.look({ css: '#tide' })).text === `at rest ${round}`)
        const now = await look((await browser.driver.exact!())!.bytes, box!)
        const isShown = async () =>
          (await look(browser.newest, box!)).every((value, at) => Math.abs(value - now[at]!) < 90)
        await until(isShown)
        expect([round, await isShown()]).toEqual([round, true])
      }
    })

    test('a page that opens dialogs without end is told a few, with how they were answered', async () => {
      await browser.driver.answerDialog(true, undefined)
      await browser.click({ role: 'button', name: 'Storm' })
      await until(async () => (await browser.driver.title()) === 'over')
      expect(await browser.driver.title()).toBe('over')
      expect(browser.dialogs[0]).toBe('storm 0: accept')
      expect(browser.dialogs.length).toBeLessThan(30)
    })

    test('a dialog is answered by who steers', async () => {
      const words: string[] = []
      browser.ask = async (dialog) => {
        words.push(dialog.words)
        if (dialog.kind !== undefined) expect(dialog).toMatchObject({ kind: 'prompt', suggested: '2' })
        return { accept: true, text: '3' }
      }
      await browser.click({ role: 'button', name: 'Toll' })
      await until(async () => (await browser.driver.look({ css: '#tide' })).text === 'toll 3')
      expect((await browser.driver.look({ css: '#tide' })).text).toBe('toll 3')
      expect(words).toEqual(['How many?'])
      expect(await browser.driver.openDialog()).toBeUndefined()
    })

    test('a file is given to the field that asks for one', async () => {
      await browser.click({ label: 'Boarding card' })
      await until(async () => browser.filesAsked.length > 0)
      expect(browser.filesAsked).toEqual([false])
      expect(await browser.live.give([{ name: 'card.txt', text: 'FS-40121' }])).toBe(true)
      expect((await browser.driver.look({ label: 'Boarding card' })).value).toContain('card.txt')
      expect(await browser.live.give([{ name: 'card.txt', text: 'FS-40121' }])).toBe(false) // nothing asks any more
      await browser.click({ label: 'Boarding card' })
      await until(async () => browser.filesAsked.length > 1)
      const picture = { name: 'dot.gif', text: 'R0lGODlhAQABAAAAACw=', encoding: 'base64' as const }
      expect(await browser.live.give([picture])).toBe(true)
      await until(async () => (await browser.driver.title()).startsWith('image/gif'))
      expect(await browser.driver.title()).toBe('image/gif 14')
    })

    test('a browser that is killed is told to be gone', async () => {
      const told = browser.driver.broken!
      kill()
      expect((await told).message).toBe('the browser is gone')
    })
  })

describe('a handset made up by Chromium', () => {
  const holder = new BrowserHolder()
  afterAll(() => holder.close())
  const handset = { ...environment, kind: 'emulated' as const, width: 390, height: 700 }
  beforeEach(() => begin(() => openChromium(holder, handset, realPace(), false)))

  test('is touched: a tap is recorded as a click, and a finger that moves scrolls', async () => {
    const { port } = pages.address() as AddressInfo
    await browser.driver.open(`http://127.0.0.1:${port}/strand`, PATIENT_MS)
    await browser.click({ role: 'button', name: 'Anchor' })
    await until(async () => browser.steps().length === 1)
    expect(browser.steps()).toEqual([{ click: { on: { role: 'button', name: 'Anchor' } } }])
    expect((await browser.driver.look({ css: '#by' })).text).toBe('touch')
    const finger = (type: 'down' | 'move' | 'up', y: number) =>
      browser.live.input({ do: 'mouse', type, x: 200, y, button: 'left', clicks: 1, with: [] })
    await finger('down', 500)
    for (let y = 480; y >= 200; y -= 20) await finger('move', y)
    await finger('up', 200)
    const isScrolled = async () => (await browser.driver.look({ role: 'button' })).found!.box!.y < 0
    await until(isScrolled)
    expect(await isScrolled()).toBe(true)
    expect(browser.steps()).toHaveLength(1)
  })
})

import { createServer } from 'node:http'
import type { AddressInfo } from 'node:net'
import sharp from 'sharp'
import { stepForm } from '@/core/model/editing'
import { stepsOfRecording, type LiveList, type RecordedEvent } from '@/core/live'
import { endBrowser, newMark } from '../../browser-process'
import { BrowserHolder } from '../../chromium/browser'
import { openChromium } from '../../chromium/open'
import { FirefoxHolder, findFirefox } from '../../firefox/browser'
import { openFirefox } from '../../firefox/open'
import { openWebKit, webkitMissing } from '../../webdriver/webkit'
import type { LiveBrowser, LiveListeners } from '../live'
import { realPace, type BrowserDriver } from '../port'
import { environment } from '../testing/conformance'
import { PATIENT_MS, until } from '../testing/patience'

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
  const turn = () => { tide.textContent = left > 0 ? 'high '.repeat(left % 7) + left : 'at rest ' + rounds; if (left-- > 0) requestAnimationFrame(turn) }
  turn() }</script>`

/** A frame of another site, and one of the same. */
const framed = (site: string) => `<!doctype html><title>Framed</title><body style="margin: 0">
<h1 style="height: 60px; margin: 0">Quays</h1><iframe title="Quays" style="border: 0" src="${site}"></iframe>`
const QUAY = `<!doctype html><body style="margin: 0"><p><label>Quay <select name="quay"><option>North</option>
<option>South</option></select></label> <button id="moor">Moor</button>`

const STRAND = `<!doctype html><body style="height: 3000px"><button>Anchor</button><p id="by"></p>
<script>addEventListener('pointerdown', ({ pointerType }) => (by.textContent = pointerType))</script>`

const holder = new BrowserHolder()
/** As where a frame of another site has a process of its own. */
const isolating = new BrowserHolder(['--site-per-process'])
const firefox = new FirefoxHolder()
const webkitMark = newMark()
const kill: Record<string, () => void> = {
  Chromium: () => holder.kill(),
  'Chromium that keeps sites apart': () => isolating.kill(),
  Firefox: () => firefox.kill(),
  WebKit: () => endBrowser(webkitMark),
}
const ENGINES: [name: string, isHere: boolean, open: () => Promise<BrowserDriver>][] = [
  ['Chromium', true, () => openChromium(holder, environment, realPace(), false)],
  ['Chromium that keeps sites apart', true, () => openChromium(isolating, environment, realPace(), false)],
  ['Firefox', findFirefox() !== undefined, () => openFirefox(firefox, environment, realPace(), false)],
  [
    'WebKit',
    webkitMissing().length === 0,
    async () => (await openWebKit(environment, realPace(), false, webkitMark)).driver,
  ],
]
const pages = createServer((request, response) => {
  response.setHeader('content-type', 'text/html')
  if (request.url!.startsWith('/framed')) return response.end(framed(request.url!.slice('/framed'.length)))
  if (request.url!.startsWith('/quay')) return response.end(QUAY)
  if (request.url!.startsWith('/strand')) return response.end(STRAND)
  response.end(request.url!.startsWith('/found') ? '<title>Found</title><h1>Sailings</h1>' : PAGE)
})
beforeAll(() => new Promise<void>((resolve) => pages.listen(0, '127.0.0.1', resolve)))
afterAll(async () => {
  pages.close()
  await holder.close()
  await isolating.close()
  await firefox.close()
})

let driver: BrowserDriver
let live: LiveBrowser
let events: RecordedEvent[]
let list: LiveList | null
let frames: number
let asked: boolean[]
let dialogs: string[]
let ask: LiveListeners['ask']
let newest: Uint8Array
async function begin(open: () => Promise<BrowserDriver>): Promise<void> {
  events = []
  list = null
  frames = 0
  dialogs = []
  asked = []
  ask = async () => undefined
  driver = await open()
  live = await driver.live!({
    frame: (jpeg) => {
      frames++
      newest = jpeg
    },
    seen: (event) => void events.push({ ...event, atMs: Math.round(performance.now()) } as RecordedEvent),
    list: (one) => (list = one),
    files: (several) => void asked.push(several),
    ask: (dialog) => ask(dialog),
    dialog: (words, answer) => void dialogs.push(`${words}: ${answer}`),
  })
  await driver.open(`http://127.0.0.1:${(pages.address() as AddressInfo).port}/`, PATIENT_MS)
}
afterEach(async () => {
  await live.close()
  await driver.close()
})

const middle = async (target: { label?: string; role?: string; name?: string; css?: string }) => {
  const { x, y, w, h } = (await driver.look(target)).found!.box!
  return { x: x + w / 2, y: y + h / 2 }
}
async function click(target: Parameters<typeof middle>[0]): Promise<void> {
  const at = await middle(target)
  for (const doing of ['down', 'up'] as const)
    await live.input({ do: 'mouse', type: doing, ...at, button: 'left', clicks: 1, with: [] })
}
async function type(text: string): Promise<void> {
  for (const key of text)
    for (const doing of ['down', 'up'] as const)
      await live.input({ do: 'key', type: doing, key, code: '', with: [] })
}
const steps = () => stepsOfRecording(events).map(({ step }) => stepForm(step))

const look = async (picture: Uint8Array, { x, y, w, h }: { x: number; y: number; w: number; h: number }) =>
  sharp(picture).extract({ left: x, top: y, width: w, height: h }).greyscale().raw().toBuffer()

for (const [name, isHere, open] of ENGINES)
  (isHere ? describe : describe.skip)(name, () => {
    beforeEach(() => begin(open))

    test('what a person does becomes steps, also what leads to another page at once', async () => {
      await click({ label: 'Passengers' })
      await live.input({ do: 'key', type: 'down', key: 'End', code: 'End', with: [] })
      await live.input({ do: 'key', type: 'down', key: 'Backspace', code: 'Backspace', with: [] })
      await type('3')
      await click({ label: 'Return crossing' })
      await click({ label: 'Password' })
      await type('low-tide')
      await click({ role: 'button', name: 'Find sailings' })
      await until(async () => steps().length === 4)
      expect(steps()).toEqual([
        { type: { in: { label: 'Passengers', css: 'input[name="passengers"]' }, value: '3' } },
        { choose: { in: { label: 'Return crossing', css: 'input[name="back"]' }, value: 'yes' } },
        { type: { in: { label: 'Password', css: 'input[name="word"]' }, value: '${secret.PASSWORD}' } },
        { click: { on: { role: 'button', name: 'Find sailings', css: '#go' } } },
      ])
      expect(JSON.stringify(events)).not.toContain('low-tide')
      await until(async () => (await driver.title()) === 'Found')
      expect(await driver.title()).toBe('Found')
    })

    test('a click that a script makes is nobody’s', async () => {
      await click({ label: 'Passengers' })
      await until(async () => events.length > 0)
      expect(events.filter(({ kind }) => kind === 'click')).toHaveLength(1)
    })

    test('a list that the browser would draw itself is told, and chosen from', async () => {
      await click({ label: 'To' })
      await until(async () => list !== null)
      expect(list!.options.map(({ label, chosen }) => [label, chosen])).toEqual([
        ['Tolva', true],
        ['Quillhaven', false],
      ])
      await live.choose(['q'])
      expect((await driver.look({ label: 'To' })).value).toBe('q')
      await until(async () => steps().length === 1)
      expect(steps()).toEqual([
        { choose: { in: { label: 'To', css: 'select[name="to"]' }, value: 'Quillhaven' } },
      ])
      expect(list).toBeNull()
    })

    for (const [where, isOther] of [
      ['of the same site', false],
      ['of another site', true],
    ] as const)
      test(`what is done in a frame ${where} is recorded, and its list is drawn at its place`, async () => {
        const { port } = pages.address() as AddressInfo
        const site = isOther ? `http://localhost:${port}/quay` : '/quay'
        await driver.open(`http://127.0.0.1:${port}/framed${site}`, PATIENT_MS)
        await until(async () => (await driver.look({ css: '#moor' })).count === 1)
        await click({ css: '#moor' })
        await until(async () => steps().length === 1)
        expect(steps()).toEqual([{ click: { on: { role: 'button', name: 'Moor', css: '#moor' } } }])
        const at = await middle({ css: '#moor' })
        const facts = await live.factsAt(at.x, at.y)
        expect(facts).toMatchObject({ tag: 'button', name: 'Moor', counts: { role: 1, css: 1 } })
        expect(Math.abs(facts!.box!.y + facts!.box!.h / 2 - at.y)).toBeLessThan(3)
        await click({ label: 'Quay' })
        await until(async () => list !== null)
        const drawn = (await driver.look({ label: 'Quay' })).found!.box!
        expect(Math.abs(list!.box.y - drawn.y)).toBeLessThan(3)
        await live.choose(['South'])
        await until(async () => steps().length === 2)
        expect(steps()[1]).toEqual({
          choose: { in: { label: 'Quay', css: 'select[name="quay"]' }, value: 'South' },
        })
      })

    test('what is at a point is told: how it is found, and how often', async () => {
      const at = await middle({ role: 'button', name: 'Find sailings' })
      expect(await live.factsAt(at.x, at.y)).toMatchObject({
        tag: 'button',
        role: 'button',
        name: 'Find sailings',
        counts: { role: 1, text: 1, css: 1 },
        value: 'Find sailings',
      })
    })

    test('pictures come while something changes', async () => {
      await until(async () => frames > 0)
      expect(frames).toBeGreaterThan(0)
      await click({ label: 'Passengers' })
      const before = frames
      await type('12')
      await until(async () => frames > before)
      expect(frames).toBeGreaterThan(before)
    })

    test('the last of many pictures is what is there then', async () => {
      const { box } = (await driver.look({ css: '#tide' })).found!
      for (let round = 1; round <= 6; round++) {
        await click({ role: 'button', name: 'Wave' })
        await until(async () => (await driver.look({ css: '#tide' })).text === `at rest ${round}`)
        const now = await look((await driver.exact!())!.bytes, box!)
        const isShown = async () =>
          (await look(newest, box!)).every((value, at) => Math.abs(value - now[at]!) < 90)
        await until(isShown)
        expect([round, await isShown()]).toEqual([round, true])
      }
    })

    test('a page that opens dialogs without end is told a few, with how they were answered', async () => {
      await driver.answerDialog(true, undefined)
      await click({ role: 'button', name: 'Storm' })
      await until(async () => (await driver.title()) === 'over')
      expect(await driver.title()).toBe('over')
      expect(dialogs[0]).toBe('storm 0: accept')
      expect(dialogs.length).toBeLessThan(30)
    })

    test('a dialog is answered by who steers', async () => {
      const words: string[] = []
      ask = async (dialog) => {
        words.push(dialog.words)
        if (dialog.kind !== undefined) expect(dialog).toMatchObject({ kind: 'prompt', suggested: '2' })
        return { accept: true, text: '3' }
      }
      await click({ role: 'button', name: 'Toll' })
      await until(async () => (await driver.look({ css: '#tide' })).text === 'toll 3')
      expect((await driver.look({ css: '#tide' })).text).toBe('toll 3')
      expect(words).toEqual(['How many?'])
      expect(await driver.openDialog()).toBeUndefined()
    })

    test('a file is given to the field that asks for one', async () => {
      await click({ label: 'Boarding card' })
      await until(async () => asked.length > 0)
      expect(asked).toEqual([false])
      expect(await live.give([{ name: 'card.txt', text: 'FS-40121' }])).toBe(true)
      expect((await driver.look({ label: 'Boarding card' })).value).toContain('card.txt')
      expect(await live.give([{ name: 'card.txt', text: 'FS-40121' }])).toBe(false) // nothing asks any more
      await click({ label: 'Boarding card' })
      await until(async () => asked.length > 1)
      const picture = { name: 'dot.gif', text: 'R0lGODlhAQABAAAAACw=', encoding: 'base64' as const }
      expect(await live.give([picture])).toBe(true)
      await until(async () => (await driver.title()).startsWith('image/gif'))
      expect(await driver.title()).toBe('image/gif 14')
    })

    test('a browser that is killed is told to be gone', async () => {
      const told = driver.broken!
      kill[name]!()
      expect((await told).message).toBe('the browser is gone')
    })
  })

describe('a handset made up by Chromium', () => {
  const handset = { ...environment, kind: 'emulated' as const, width: 390, height: 700 }
  beforeEach(() => begin(() => openChromium(holder, handset, realPace(), false)))

  test('is touched: a tap is recorded as a click, and a finger that moves scrolls', async () => {
    const { port } = pages.address() as AddressInfo
    await driver.open(`http://127.0.0.1:${port}/strand`, PATIENT_MS)
    await click({ role: 'button', name: 'Anchor' })
    await until(async () => steps().length === 1)
    expect(steps()).toEqual([{ click: { on: { role: 'button', name: 'Anchor' } } }])
    expect((await driver.look({ css: '#by' })).text).toBe('touch')
    const finger = (type: 'down' | 'move' | 'up', y: number) =>
      live.input({ do: 'mouse', type, x: 200, y, button: 'left', clicks: 1, with: [] })
    await finger('down', 500)
    for (let y = 480; y >= 200; y -= 20) await finger('move', y)
    await finger('up', 200)
    const isScrolled = async () => (await driver.look({ role: 'button' })).found!.box!.y < 0
    await until(isScrolled)
    expect(await isScrolled()).toBe(true)
    expect(steps()).toHaveLength(1)
  })
})

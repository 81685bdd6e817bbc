/** A live session over the whole product on loopback: pictures a second of a page that never rests, from
 * input to the changed picture in the page that steers, bytes a second idle and busy, with one person and
 * with two who watch, and what the web process and the agent take of memory in half an hour of that.
 * `OAK_LIVE_MINUTES`: another time than 30; 0: none. */
import { createServer } from 'node:http'
import type { AddressInfo } from 'node:net'
import { setTimeout } from 'node:timers/promises'
import type { Page } from 'playwright-core'
import { childrenOf, WEB } from './kills'
import { megabytesOf } from './memory'
import { OWN, signedIn, startProduct } from './product'
import { quantile, report } from './report'

const PORT = 4980
const MEASURED_MS = 5000
const CLICKS = 40
const MINUTES = Number(process.env.OAK_LIVE_MINUTES ?? 30)
/** The page moves for a minute after a click, and the session has twenty. */
const KEEP_GOING_MS = 50_000
/** Of what a process takes in the second tenth of the time. */
const MEMORY_GROWS_MOST = 1.25
/** It moves for so long after it was told to, and turns its colour with each click. */
const PAGE = `<!doctype html><title>Tide table</title><style>body { margin: 0; font: 20px sans-serif }
#run { position: absolute; top: 200px; left: 0; font-size: 40px }</style>
<button id="move" style="position: absolute; left: 20px; top: 20px; width: 200px; height: 60px">Move</button>
<div id="colour" style="position: absolute; left: 400px; top: 0; width: 300px; height: 150px; background: #ffffff"></div>
<p id="run">Heron</p>
<script>
let until = 0
move.onclick = () => { until = performance.now() + 60000; turn() }
const turn = () => {
  run.style.left = (performance.now() / 4 % 900) + 'px'
  if (performance.now() < until) requestAnimationFrame(turn)
}
let black = false
colour.onmousedown = () => { black = !black; colour.style.background = black ? '#000000' : '#ffffff' }
</script>`

const memory = new Map<string, { pids: number[]; taken: number[] }>()
const site = createServer((_, response) => response.setHeader('content-type', 'text/html').end(PAGE))
await new Promise<void>((resolve) => site.listen(0, '127.0.0.1', resolve))
const address = `http://127.0.0.1:${(site.address() as AddressInfo).port}`

const product = await startProduct({ port: PORT, demo: false })
const { context, close } = await signedIn(product)
try {
  const send = async (method: string, path: string, data: object) => {
    const answer = await context.request.fetch(`${product.base}${path}`, { method, headers: OWN, data })
    if (!answer.ok()) throw new Error(`${method} ${path}: ${await answer.text()}`)
  }
  await send('PUT', '/api/applications/tides', { title: 'Tides', address, untried: true })
  const source = 'case: tides\ntitle: Tides\nsteps:\n  - open: tides:/\n'
  await send('PUT', '/api/definitions/case/tides', { source, basedOn: 0 })
  const page = await context.newPage()
  const path = await openSession(page)
  await page.getByRole('button', { name: /^One step/ }).click()
  await setTimeout(2000)

  const idle = await heardBytes(page, MEASURED_MS)
  report('bytes a second while nothing changes', idle.bytes / (MEASURED_MS / 1000), 2000, 'bytes')
  const delays: number[] = []
  for (let i = 0; i < CLICKS; i++) delays.push(await untilChanged(page))
  report('from input to the changed picture, the median', quantile(delays, 0.5), 100, 'ms')
  report('from input to the changed picture, 95 of 100', quantile(delays, 0.95), 250, 'ms')

  await clickAt(page, 120, 50)
  await setTimeout(1000)
  const busy = await heardBytes(page, MEASURED_MS)
  report(
    'pictures a second of a page that never rests, 15 as a share of them',
    (15 * MEASURED_MS) / 1000 / busy.frames,
    1,
    '',
  )
  console.log(
    `      ${((busy.frames * 1000) / MEASURED_MS).toFixed(1)} pictures and ` +
      `${Math.round(busy.bytes / MEASURED_MS)} KB a second`,
  )

  const watchers = await Promise.all([context.newPage(), context.newPage()])
  await Promise.all(watchers.map((one) => one.goto(path)))
  await setTimeout(2000)
  const all = await Promise.all([page, ...watchers].map((one) => heardBytes(one, MEASURED_MS)))
  const fewest = Math.min(...all.map(({ frames }) => frames))
  report('the same with two who watch, of the one who gets fewest', (15 * MEASURED_MS) / 1000 / fewest, 1, '')
  for (const [name, pattern] of [
    ['the web process', WEB],
    ['the agents together', /build\/agent\.mjs/],
  ] as const)
    memory.set(name, { pids: childrenOf(product, pattern), taken: [] })
  await keepGoing(page)
  for (const [name, { taken }] of memory) {
    const tenth = Math.floor(taken.length / 10)
    const [early, late] = [taken.slice(tenth, 2 * tenth), taken.slice(-tenth)].map((some) =>
      quantile(some, 0.5),
    )
    if (tenth > 0) report(`memory of ${name} after ${MINUTES} min`, late!, early! * MEMORY_GROWS_MOST, 'MB')
  }
} finally {
  await close()
  await product.stop()
  site.close()
}
process.exit()

/** @returns its address */
async function openSession(page: Page): Promise<string> {
  await page.context().addInitScript(() => {
    // what comes over its line is counted, and each picture drawn is looked at where the colour turns
    const heard = { bytes: 0, frames: 0, changed: undefined as ((at: number) => void) | undefined, was: -1 }
    Object.assign(window, { heard })
    const Own = window.WebSocket
    window.WebSocket = class extends Own {
      constructor(url: string | URL) {
        super(url)
        this.addEventListener('message', ({ data }: MessageEvent<string | ArrayBuffer>) => {
          heard.bytes += typeof data === 'string' ? data.length : data.byteLength
          if (typeof data !== 'string') heard.frames++
        })
      }
    }
    const draw = CanvasRenderingContext2D.prototype.drawImage as (...given: unknown[]) => void
    CanvasRenderingContext2D.prototype.drawImage = function (...given: unknown[]) {
      draw.apply(this, given)
      if (!heard.changed) return
      const [value = 0] = this.getImageData(550, 75, 1, 1).data
      if (Math.abs(value - heard.was) < 100) return
      heard.changed(performance.now())
      heard.changed = undefined
    }
  })
  await page.goto(`${product.base}/cases/tides`)
  await page.getByRole('button', { name: /^Live/ }).click()
  const dialog = page.getByRole('dialog')
  await dialog.getByLabel('Build').fill('1.0')
  await dialog.getByRole('button', { name: 'Open the browser' }).click()
  await page.waitForURL(/\/live\//)
  await page.getByText('Click into the picture').waitFor()
  return page.url()
}

/** Steers on, with two who watch, and looks at what is taken of memory every five seconds. */
async function keepGoing(page: Page): Promise<void> {
  const until = performance.now() + MINUTES * 60_000
  for (let next = 0; performance.now() < until; await setTimeout(5000)) {
    for (const { pids, taken } of memory.values())
      taken.push(pids.reduce((sum, pid) => sum + (megabytesOf(pid) ?? 0), 0))
    if (performance.now() < next) continue
    next = performance.now() + KEEP_GOING_MS
    await clickAt(page, 120, 50)
    await page
      .getByRole('button', { name: '10 min more' })
      .click({ timeout: 1000 })
      .catch(() => {})
  }
}

async function heardBytes(page: Page, forMs: number): Promise<{ bytes: number; frames: number }> {
  const read = () =>
    page.evaluate(() => {
      const { bytes, frames } = (window as unknown as { heard: { bytes: number; frames: number } }).heard
      return { bytes, frames }
    })
  const before = await read()
  await setTimeout(forMs)
  const after = await read()
  return { bytes: after.bytes - before.bytes, frames: after.frames - before.frames }
}

async function place(page: Page, x: number, y: number): Promise<{ clientX: number; clientY: number }> {
  const box = (await page.locator('canvas').boundingBox())!
  return { clientX: box.x + (x / 1280) * box.width, clientY: box.y + (y / 800) * box.height }
}
async function clickAt(page: Page, x: number, y: number): Promise<void> {
  const { clientX, clientY } = await place(page, x, y)
  await page.mouse.click(clientX, clientY)
}

/** Presses the mouse in the page itself, where the time begins. @returns until a picture shows it */
async function untilChanged(page: Page): Promise<number> {
  const at = await place(page, 550, 75)
  await setTimeout(150)
  return page.evaluate(async (given) => {
    const { heard } = window as unknown as { heard: { changed?: (at: number) => void; was: number } }
    const canvas = document.querySelector('canvas')!
    const [was = 0] = canvas.getContext('2d')!.getImageData(550, 75, 1, 1).data
    heard.was = was
    const changed = new Promise<number>((resolve) => (heard.changed = resolve))
    const begun = performance.now()
    for (const type of ['mousedown', 'mouseup'])
      canvas.dispatchEvent(
        new MouseEvent(type, { ...given, bubbles: true, cancelable: true, button: 0, detail: 1 }),
      )
    return (await changed) - begun
  }, at)
}

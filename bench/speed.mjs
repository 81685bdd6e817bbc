// Measures the running product as a person meets it: node bench/speed.mjs [ADDRESS]
// Prints each figure beside its bound, as a ratio: below 1 is good. Nothing here is part of the tests.
import { chromium } from 'playwright-core'

const base = process.argv[2] ?? 'http://127.0.0.1:4600'
const BOUND = { 'first result after Start, ms': 10_000, 'reader opens a failed attempt, ms': 1000, 'largest first load of script, bytes': 300_000 }
const browser = await chromium.launch({ executablePath: '/usr/bin/chromium', args: ['--no-sandbox', '--disable-gpu'] })
const context = await browser.newContext({ viewport: { width: 1280, height: 800 } })
const page = await context.newPage()
const report = (name, value) => console.log(`${(value / BOUND[name]).toFixed(2)}  ${name}: ${Math.round(value)} of ${BOUND[name]}`)

await page.goto(`${base}/sign-in`)
await page.getByLabel('Name').fill('wren')
await page.getByLabel('Password').fill('fennel-sound')
await page.getByRole('button', { name: 'Sign in' }).click()
await page.waitForURL(`${base}/`)

await page.getByRole('button', { name: 'Start a run' }).click()
const dialog = page.getByRole('dialog')
await dialog.getByLabel('Suite').selectOption('nightly')
await dialog.getByLabel('Build under test').fill('2026.11.3')
const started = performance.now()
await dialog.getByRole('button', { name: 'Start', exact: true }).click()
await page.waitForURL(/\/runs\/\d+/)
const id = /\d+$/.exec(page.url())[0]
await page.locator('[role=grid] :is([data-mark=passed], [data-mark=failed], [data-mark=errored])').first().waitFor()
report('first result after Start, ms', performance.now() - started)
await page.request.post(`${base}/api/runs/${id}/cancel`, { headers: { 'sec-fetch-site': 'same-origin' } })

const { failures } = await (await page.request.get(`${base}/api/runs/5`)).json()
const times = []
for (const attempt of failures.slice(0, 8)) {
  await page.goto(`${base}/fleet`)
  const begun = performance.now()
  await page.goto(`${base}/attempts/${attempt}`, { waitUntil: 'commit' })
  await page.locator('[role=option][aria-selected=true]').waitFor()
  await page.waitForFunction(() => document.querySelector('[data-evidence=screen]')?.complete)
  times.push(performance.now() - begun)
}
times.sort((a, b) => a - b)
report('reader opens a failed attempt, ms', times[Math.floor(times.length / 2)])

const cdp = await context.newCDPSession(page)
await cdp.send('Network.enable')
await cdp.send('Network.setCacheDisabled', { cacheDisabled: true })
let bytes = 0
const scripts = new Set()
cdp.on('Network.responseReceived', ({ requestId, type }) => type === 'Script' && scripts.add(requestId))
cdp.on('Network.loadingFinished', ({ requestId, encodedDataLength }) => scripts.has(requestId) && (bytes += encodedDataLength))
let largest = 0
for (const path of ['/', '/suites', '/runs/5', `/attempts/${failures[0]}`, '/fleet', '/defects']) {
  bytes = 0
  await page.goto(base + path, { waitUntil: 'load' })
  largest = Math.max(largest, bytes)
}
report('largest first load of script, bytes', largest)
await browser.close()

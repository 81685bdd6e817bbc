/** The product as a person meets it: first result, the reader, what a first view loads. */
import { OWN, signedIn, startProduct } from './product'
import { quantile, report, timed } from './report'

const VIEWS = ['/', '/suites', '/runs/1', '/fleet', '/defects']

const product = await startProduct({ port: 4810, demo: true })
const { context, close } = await signedIn(product)
try {
  const page = await context.newPage()
  await page.goto('/')
  await page.getByRole('button', { name: 'Start a run' }).click()
  const dialog = page.getByRole('dialog')
  await dialog.getByLabel('Suite').selectOption('nightly')
  await dialog.getByLabel('Build under test').fill('2026.11.3')
  const first = await timed(async () => {
    await dialog.getByRole('button', { name: 'Start', exact: true }).click()
    await page.waitForURL(/\/runs\/\d+/)
    await page
      .locator('[role=grid] :is([data-mark=passed], [data-mark=failed], [data-mark=errored])')
      .first()
      .waitFor()
  })
  report('first result after Start', first.ms, 10_000, 'ms')
  await page.request.post(`/api/runs/${/\d+$/.exec(page.url())![0]}/cancel`, { headers: OWN })

  const { failures } = (await (await page.request.get('/api/runs/1')).json()) as { failures: string[] }
  if (failures.length === 0) throw new Error('run 1 of the demo has no failure to read')
  const times: number[] = []
  for (const attempt of failures.slice(0, 8)) {
    await page.goto('/fleet')
    const { ms } = await timed(async () => {
      await page.goto(`/attempts/${attempt}`, { waitUntil: 'commit' })
      await page.locator('[role=option][aria-selected=true]').waitFor()
      await page.waitForFunction(
        () => document.querySelector<HTMLImageElement>('[data-evidence=screen]')?.complete,
      )
    })
    times.push(ms)
  }
  report('reader opens a failed attempt, median', quantile(times, 0.5), 1000, 'ms')

  const devtools = await context.newCDPSession(page)
  await devtools.send('Network.enable')
  await devtools.send('Network.setCacheDisabled', { cacheDisabled: true })
  const scripts = new Set<string>()
  let bytes = 0
  devtools.on(
    'Network.responseReceived',
    ({ requestId, type }) => void (type === 'Script' && scripts.add(requestId)),
  )
  devtools.on(
    'Network.loadingFinished',
    ({ requestId, encodedDataLength }) => void (scripts.has(requestId) && (bytes += encodedDataLength)),
  )
  let largest = 0
  for (const path of [...VIEWS, `/attempts/${failures[0]}`]) {
    bytes = 0
    await page.goto(path, { waitUntil: 'load' })
    largest = Math.max(largest, bytes)
  }
  report('largest first load of script', largest, 300_000, 'bytes')
} finally {
  await close()
  await product.stop()
}

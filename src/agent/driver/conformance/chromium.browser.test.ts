import type { EventEmitter } from 'node:events'
import { readdirSync, readFileSync } from 'node:fs'
import { BrowserHolder } from '../../chromium/browser'
import { openChromium } from '../../chromium/open'
import { realPace } from '../port'
import { conform, environment, environmentOf, pagesOfTests } from '../testing/conformance'
import { PATIENT_MS, until } from '../testing/patience'

const holder = new BrowserHolder()
const base = pagesOfTests()
afterAll(() => holder.close())

conform('Chromium', () => openChromium(holder, environmentOf('Chromium'), realPace()))

/** A running ffmpeg of this process. */
function isEncoder(pid: string): boolean {
  if (!/^\d+$/.test(pid)) return false
  try {
    const [, name, state, parent] = /^\d+ \((.*)\) (\S) (\d+)/.exec(
      readFileSync(`/proc/${pid}/stat`, 'latin1'),
    )!
    return name === 'ffmpeg' && state !== 'Z' && Number(parent) === process.pid
  } catch {
    return false // it ended in between
  }
}

test('a driver that is closed without its video leaves no encoder behind', async () => {
  const encoders = () => readdirSync('/proc').filter((pid) => isEncoder(pid))
  const driver = await openChromium(holder, environment, realPace())
  await driver.open(base(), PATIENT_MS)
  expect(encoders()).toHaveLength(1)
  await driver.close()
  await until(async () => encoders().length === 0)
  expect(encoders()).toEqual([])
})
test('a field that cuts a secret short shows no part of it', async () => {
  const driver = await openChromium(holder, environment, realPace())
  await driver.open(`${base()}/cuts`, PATIENT_MS)
  const read = async () => [
    (await driver.look({ label: 'Cut' })).value,
    await driver.attribute({ label: 'Cut' }, 'value'),
  ]
  await driver.type({ label: 'Cut' }, 'low-tide', PATIENT_MS, true)
  expect(await read()).toEqual(['••••', '••••'])
  await driver.type({ label: 'Cut' }, 'plain', PATIENT_MS)
  expect(await read()).toEqual(['pl', 'pl'])
  await driver.close()
})
test('a secret leaves no trace of its length on a screen', async () => {
  const shots = await Promise.all(
    ['a', 'much longer than the other'].map(async (secret) => {
      const driver = await openChromium(holder, environment, realPace())
      await driver.open(base(), PATIENT_MS)
      await driver.type({ label: 'Secret' }, secret, PATIENT_MS)
      await driver.type({ placeholder: 'your name' }, secret, PATIENT_MS, true)
      await driver.choose({ label: 'Port' }, 'Tolva', PATIENT_MS)
      const shot = await driver.screen()
      await driver.close()
      return Buffer.from(shot!.bytes).toString('base64')
    }),
  )
  expect(shots[0]).toBe(shots[1])
})

test('attempts that are over leave nothing at their browser, which outlives them', async () => {
  // its emitter is that of Node.js, which its types do not say
  const browser = (await holder.get()) as unknown as EventEmitter
  const before = browser.listenerCount('disconnected')
  for (let i = 0; i < 3; i++) await (await openChromium(holder, environment, realPace(), false)).close()
  expect(browser.listenerCount('disconnected')).toBe(before)
})

import { EventEmitter } from 'node:events'
import type { Page } from 'puppeteer-core'
import { Opening } from './opening'

const LIMIT_MS = 1000
/** A window that answers each address as it is told: with a failure, or with a page that was asked for. */
function windowOf(answers: (string | undefined)[], asks: (index: number) => boolean = () => false) {
  const events = new EventEmitter()
  const opened: string[] = []
  const goto = async (url: string) => {
    const index = opened.push(url) - 1
    if (asks(index) || answers[index] === undefined)
      events.emit('request', { redirectChain: () => [], isNavigationRequest: () => true, url: () => url })
    if (answers[index] !== undefined) throw new Error(answers[index])
    return null
  }
  const page = { goto, on: events.on.bind(events), off: events.off.bind(events) } as unknown as Page
  return { page, opened, listeners: () => events.listenerCount('request') + events.listenerCount('load') }
}
const [BLOCKED, GOOD] = ['http://127.0.0.1:1/', 'http://127.0.0.1:4700/']

test('the failure of the address before, coming once more, is not that of the next', async () => {
  const { page, opened, listeners } = windowOf(['port is blocked', 'port is blocked', undefined])
  const opening = new Opening()
  await expect(opening.open(page, BLOCKED, LIMIT_MS)).rejects.toThrow('port is blocked')
  expect(await opening.open(page, GOOD, LIMIT_MS)).toBeUndefined()
  expect(opened).toEqual([BLOCKED, GOOD, GOOD])
  expect(listeners()).toBe(0)
})

test('an address that fails in the same way each time is told each time', async () => {
  const { page, opened } = windowOf(Array(4).fill('port is blocked'))
  const opening = new Opening()
  for (let i = 0; i < 2; i++)
    await expect(opening.open(page, BLOCKED, LIMIT_MS)).rejects.toThrow('port is blocked')
  expect(opened.length).toBeLessThanOrEqual(3)
})

test('what was asked for and failed is its own failure, also in the same words', async () => {
  const { page, opened } = windowOf(['refused', 'refused'], () => true)
  const opening = new Opening()
  await expect(opening.open(page, BLOCKED, LIMIT_MS)).rejects.toThrow('refused')
  await expect(opening.open(page, GOOD, LIMIT_MS)).rejects.toThrow('refused')
  expect(opened).toHaveLength(2)
})

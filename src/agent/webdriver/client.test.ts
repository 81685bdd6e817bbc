import { jest } from '@jest/globals'
import { answered, WebDriverSession } from './client'

const never = () => new Promise<string>(() => {})
const refuses = async (): Promise<string> => {
  throw new Error('gone')
}

beforeEach(() => void jest.useFakeTimers())
afterEach(() => {
  jest.useRealTimers()
  jest.restoreAllMocks()
})

/** @returns what it came to, once the driver had all the time that it gets */
async function asked(first: () => Promise<string>, second: () => Promise<string>) {
  const end = answered([first, second]).catch((error: Error) => error.message)
  await jest.advanceTimersByTimeAsync(10_000)
  return end
}

test.each<[string, () => Promise<string>, () => Promise<string>, string]>([
  ['what is never answered is asked again', never, async () => 'again', 'again'],
  ['the second way may tell that nothing comes', never, refuses, 'gone'],
  ['what is refused is not asked again', refuses, async () => 'again', 'gone'],
  ['what is answered is not asked again', async () => 'once', async () => 'again', 'once'],
])('%s', async (_, first, second, is) => expect(await asked(first, second)).toBe(is))

test('what is answered late is taken, if the second question was not answered before', async () => {
  const late = () => new Promise<string>((resolve) => setTimeout(() => resolve('late'), 5000))
  expect(await asked(late, never)).toBe('late')
})

/** A driver whose page goes away with the first script. */
async function forgetful(): Promise<WebDriverSession> {
  const answer = (value: unknown) => ({ ok: true, json: async () => ({ value }) }) as Response
  let scripts = 0
  jest.spyOn(globalThis, 'fetch').mockImplementation(async (url) => {
    if (!String(url).endsWith('/execute/sync')) return answer({ sessionId: 'tide' })
    return ++scripts === 1 ? new Promise(() => {}) : answer('said')
  })
  return WebDriverSession.start('http://127.0.0.1:9', {})
}

test('a script that only reads is asked of the page that came instead', async () => {
  const session = await forgetful()
  expect(await asked(() => session.read<string>('return 1'), never)).toBe('said')
})

test('a script that does something is not run again: it says that its page went away', async () => {
  const session = await forgetful()
  const end = await asked(() => session.execute<string>('click()', []), never)
  expect(end).toBe('the page went away before it answered')
})

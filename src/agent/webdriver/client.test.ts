import { jest } from '@jest/globals'
import { answered } from './client'

const never = () => new Promise<string>(() => {})
const refuses = async (): Promise<string> => {
  throw new Error('gone')
}

beforeEach(() => void jest.useFakeTimers())
afterEach(() => void jest.useRealTimers())

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

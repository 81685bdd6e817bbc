import { jest } from '@jest/globals'
import { liveStream } from './stream'

type Hub = Parameters<typeof liveStream>[0]
const quiet = { on: () => () => {}, recent: () => [] } as unknown as Hub
const BEAT_MS = 15_000

beforeEach(() => void jest.useFakeTimers({ doNotFake: ['nextTick', 'queueMicrotask', 'setImmediate'] }))
afterEach(() => void jest.useRealTimers())

/** What a stream said until it ended: by itself, or as its reader left. */
async function saidUntilEnd(mayGoOn: () => Promise<boolean>): Promise<string> {
  const reader = new AbortController()
  const said = liveStream(quiet, reader.signal, mayGoOn).text()
  await jest.advanceTimersByTimeAsync(2 * BEAT_MS)
  reader.abort()
  return said
}
const named = (said: string) => [...said.matchAll(/^event: (.+)$/gm)].map(([, name]) => name)

test('a stream ends with the session it was opened in, and says so', async () => {
  expect(named(await saidUntilEnd(async () => false))).toEqual(['signed-out'])
})

test('it goes on while the session does', async () => {
  expect(named(await saidUntilEnd(async () => true))).toEqual(['beat', 'beat'])
})

test('while the database is away nobody is signed out', async () => {
  const away = async (): Promise<boolean> => {
    throw new Error('the database is away')
  }
  expect(named(await saidUntilEnd(away))).toEqual(['beat', 'beat'])
})

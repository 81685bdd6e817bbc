import { jest } from '@jest/globals'
import { openLive } from './live-source'
import { notLiveSince } from '../base/live-state'

/** A source of events that does what a test says. */
class Source {
  static readonly OPEN = 1
  static readonly CLOSED = 2
  static all: Source[] = []
  readyState = 0
  onopen?: () => void
  onmessage?: (event: { data: string }) => void
  onerror?: () => void
  private readonly named = new Map<string, () => void>()
  constructor() {
    Source.all.push(this)
  }
  addEventListener(name: string, listener: () => void): void {
    this.named.set(name, listener)
  }
  close(): void {
    this.readyState = 2
  }
  opens(): void {
    this.readyState = 1
    this.onopen?.()
  }
  breaks(): void {
    this.readyState = 0
    this.onerror?.()
  }
  isRefused(): void {
    this.readyState = 2
    this.onerror?.()
  }
  says(name: string): void {
    this.named.get(name)?.()
  }
}

const told: string[] = []
let end: () => void
const newest = () => Source.all.at(-1)!

beforeEach(() => {
  jest.useFakeTimers({ now: 1_000_000 })
  Source.all = []
  told.length = 0
  Object.assign(globalThis, { EventSource: Source })
  end = openLive('/api/live', {
    changed: (names) => told.push(names.join()),
    back: () => told.push('back'),
    signedOut: () => told.push('signed out'),
    refused: () => told.push('refused'),
  })
  newest().opens()
})
afterEach(() => {
  newest().opens()
  end()
  jest.useRealTimers()
})

test('what changed is passed on, and the page is live', () => {
  newest().onmessage!({ data: '["run 1"]' })
  expect(told).toEqual(['run 1'])
  expect(notLiveSince()).toBeUndefined()
})

test('a server that went away is told, with since when, and everything is read again when it is back', () => {
  jest.advanceTimersByTime(10_000)
  newest().says('beat')
  newest().breaks()
  jest.advanceTimersByTime(2000)
  expect(notLiveSince()).toBeUndefined() // not worth a word yet
  jest.advanceTimersByTime(2000)
  expect(notLiveSince()).toBe(1_010_000)
  for (let i = 0; i < 5; i++) {
    newest().breaks()
    jest.advanceTimersByTime(6000)
  }
  expect(notLiveSince()).toBe(1_010_000) // since the first moment
  newest().opens()
  expect(notLiveSince()).toBeUndefined()
  expect(told).toEqual(['back'])
})

test('a line that was cut, on which nothing is heard, counts as ended', () => {
  jest.advanceTimersByTime(34_000)
  expect(notLiveSince()).toBeUndefined()
  jest.advanceTimersByTime(3000)
  expect(notLiveSince()).toBe(1_000_000)
  expect(Source.all.length).toBeGreaterThan(1) // it is tried anew
})

test('the end of the session is told at once', () => {
  newest().says('signed-out')
  expect(told).toEqual(['signed out'])
})

test('a stream that is answered with no says so, and is tried anew; one that breaks is no refusal', () => {
  newest().breaks()
  expect(told).toEqual([])
  jest.advanceTimersByTime(1000)
  newest().isRefused()
  expect(told).toEqual(['refused'])
  jest.advanceTimersByTime(2000)
  expect(Source.all).toHaveLength(3)
})

import type { Step } from '@/core/model'
import type { AcceptedScreen, NumberedEvent } from '@/core/execution'
import type { Difference, Region } from '@/core/vision'
import { attempt } from './testing/scripted'
import type { ComparedPicture, ScreenWanted } from '../driver/eyes'
import type { BrowserDriver } from '../driver/port'

const screenCheck = (more: Partial<Extract<Step, { verb: 'check' }>> = {}): Step => ({
  verb: 'check',
  subject: 'screen',
  screen: 'deck-plan',
  soft: false,
  ...more,
})
const ACCEPTED: AcceptedScreen = { hash: 'a'.repeat(64), png: 'AAAA', ignore: [], most: 0 }
const size = { a: { w: 8, h: 6 }, b: { w: 8, h: 6 } }
const MOVED: Region = { x: 1, y: 2, w: 3, h: 2, pixels: 6, kind: 'moved', dx: 0, dy: 12 }
const SAME: Difference = { same: true, ratio: 0, size, regions: [] }
const OTHER: Difference = { same: false, ratio: 0.032, size, regions: [MOVED, { ...MOVED, kind: 'changed' }] }

/** Screens as they come one after the other; the last one stays. */
const seeing = (screens: { png: string; difference?: Difference }[]) => {
  const asked: ScreenWanted[] = []
  const compareScreen = async (wanted: ScreenWanted): Promise<ComparedPicture> => {
    const { png, difference } = screens[Math.min(asked.length, screens.length - 1)]!
    asked.push(wanted)
    return {
      png: Buffer.from(png),
      width: 8,
      height: 6,
      ignore: [],
      ...(difference && { difference }),
    }
  }
  return { asked, compareScreen }
}
const checksIn = (events: NumberedEvent[]) => events.filter((event) => event.type === 'screen-check')

test('with nothing accepted it is proposed once it no longer changes, and the case goes on', async () => {
  const { asked, compareScreen } = seeing([{ png: 'loading' }, { png: 'deck' }, { png: 'deck' }])
  const { result, events, pieces } = await attempt([screenCheck()], {}, { driver: { compareScreen } })
  expect(result.outcome).toBe('passed')
  expect(asked.length).toBe(3)
  expect(checksIn(events)).toMatchObject([{ name: 'deck-plan', result: 'proposed', width: 8, height: 6 }])
  expect(pieces.map(({ bytes }) => Buffer.from(bytes).toString())).toContain('deck')
  expect(events.find((event) => event.type === 'step-ended')).toMatchObject({
    note: 'there was no accepted screen: this one is proposed',
  })
})

test('it is looked at until it is as it was accepted', async () => {
  const { asked, compareScreen } = seeing([
    { png: 'late', difference: OTHER },
    { png: 'deck', difference: SAME },
  ])
  const { result, events } = await attempt(
    [screenCheck()],
    {},
    { driver: { compareScreen }, work: { screens: { 'deck-plan': { ...ACCEPTED, from: 'Firefox' } } } },
  )
  expect(result.outcome).toBe('passed')
  expect(asked.length).toBe(2)
  expect(checksIn(events)).toMatchObject([{ result: 'same', accepted: ACCEPTED.hash, from: 'Firefox' }])
  expect(events.find((event) => event.type === 'step-ended')).toMatchObject({
    note: 'as it was accepted on Firefox',
  })
})

test('a screen that is not there for a moment is waited for, as long as the step may take', async () => {
  let asked = 0
  const { compareScreen } = seeing([{ png: 'deck', difference: SAME }])
  const late: BrowserDriver['compareScreen'] = async (wanted) =>
    ++asked < 3 ? undefined : compareScreen(wanted)
  const work = { screens: { 'deck-plan': ACCEPTED } }
  const { result } = await attempt([screenCheck()], {}, { driver: { compareScreen: late }, work })
  expect([result.outcome, asked]).toEqual(['passed', 3])
  const never = async () => undefined
  const none = await attempt([screenCheck({ limitMs: 600 })], {}, { driver: { compareScreen: never }, work })
  expect(none.result).toMatchObject({ outcome: 'errored', failure: { kind: 'script' } })
})

test('what differs fails the check, with how much and where; a share may be allowed, another size never', async () => {
  const run = (difference: Difference, most = 0) =>
    attempt(
      [screenCheck({ limitMs: 300 })],
      {},
      {
        driver: { compareScreen: seeing([{ png: 'deck', difference }]).compareScreen },
        work: { screens: { 'deck-plan': { ...ACCEPTED, most } } },
      },
    )
  const { result, events } = await run(OTHER)
  expect(result).toMatchObject({
    outcome: 'failed',
    failure: { kind: 'check', actual: '3.2 % differs, in 2 parts; 1 only moved' },
  })
  expect(checksIn(events)).toMatchObject([{ result: 'differs', ratio: 0.032, regions: [MOVED, {}] }])
  expect((await run(OTHER, 0.04)).result.outcome).toBe('passed')
  const larger = { ...SAME, same: false, size: { a: size.a, b: { w: 9, h: 6 } } }
  expect((await run(larger, 1)).result.failure?.actual).toBe('9 x 6, and 8 x 6 was accepted')
})

test('targets to look at and to leave out are filled in; a browser without screens says so', async () => {
  const { asked, compareScreen } = seeing([{ png: 'deck' }])
  const step = screenCheck({ of: { testId: '${deck}' }, ignore: [{ testId: 'clock' }] })
  const given = { driver: { compareScreen }, work: { parameters: { deck: 'upper' } } }
  await attempt([step], {}, given)
  expect(asked[0]).toEqual({ of: { testId: 'upper' }, ignore: [{ testId: 'clock' }] })
  const { result } = await attempt([screenCheck()], {})
  expect(result).toMatchObject({ outcome: 'errored', failure: { kind: 'script' } })
})

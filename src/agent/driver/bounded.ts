/** A driver with a time limit on every call. A page that never stops scripting answers nothing at all, and
 * its browser does not even close. */
import type { DownloadLimit } from './download-limit'
import { inTime, LATE } from './in-time'
import { DriverFault, TEXT_MOST, type BrowserDriver } from './port'

/** An action may take this much longer than its limit: until then the driver itself says better why it did
 * not go. */
const ACTION_GRACE_MS = 1500
/** Limit of a query about the current state of the page. */
const QUESTION_MS = 5000
/** Limit of a screenshot of the log: one that takes longer is left out. */
const PICTURE_MS = 1500
/** The same of one that a step looks at: without it the step fails. */
const NEEDED_PICTURE_MS = 5000
/** The same once the page did not answer a question: it gets another chance, a short one. */
const STUCK_MS = 500
/** Headers and bodies of requests that failed are worth so much waiting. */
const SETTLED_MS = 400
const VIDEO_MS = 20_000
const CLOSE_MS = 5000

/** Each action, and which of its parameters is its limit. */
const ACTIONS = {
  open: 1,
  go: 1,
  click: 1,
  type: 2,
  choose: 2,
  press: 2,
  hover: 1,
  drag: 2,
  upload: 2,
  scrollTo: 1,
  scrollBy: 2,
  showWindow: 1,
  closeWindow: 0,
} as const
const QUESTIONS = [
  'answerDialog',
  'look',
  'attribute',
  'url',
  'title',
  'downloads',
  'dialogs',
  'windows',
  'source',
  'openDialog',
  'conceal',
] as const

type Bounded = Pick<BrowserDriver, keyof typeof ACTIONS | (typeof QUESTIONS)[number]>
type Call = (...args: unknown[]) => Promise<unknown>

/** Once the browser is gone every call says why, at once: without it, a page that is not there any more has
 * no element, and whoever waits for one waits in vain.
 * @param end ends the browser when it does not close by itself; absent: there is no browser
 * @param downloads what may end the browser; not watched any more once the driver closes */
export function bounded(
  driver: BrowserDriver,
  end?: () => void,
  downloads?: Pick<DownloadLimit, 'broken' | 'stop'>,
): BrowserDriver {
  let stuck = false
  // A picture that came late is no reason to hurry what is asked next: painting alone may be slow.
  let slowToPaint = false
  let fault: DriverFault | undefined
  const broken = Promise.race([driver.broken, downloads?.broken].filter((one) => one !== undefined)).then(
    (why) => {
      throw (fault = why)
    },
  )
  const gone = new Promise<DriverFault>((resolve) => {
    broken.catch((why: DriverFault) => resolve(why))
  })
  const questionMs = () => (stuck ? STUCK_MS : QUESTION_MS)
  const within = async <T>(work: Promise<T>, limitMs: number): Promise<T> => {
    const answer = await inTime(Promise.race([broken, work]), limitMs).catch((error: unknown) => {
      throw fault ?? error
    })
    stuck = answer === LATE
    if (!stuck) slowToPaint = false
    if (answer === LATE) throw tooBusy(limitMs)
    return answer
  }
  const picture = async <T>(work: Promise<T>, isNeeded = false): Promise<T | undefined> => {
    const usualMs = slowToPaint ? STUCK_MS : PICTURE_MS
    const limitMs = isNeeded ? NEEDED_PICTURE_MS : usualMs
    const answer = await inTime(work, stuck ? STUCK_MS : limitMs)
    slowToPaint = answer === LATE
    return answer === LATE ? undefined : answer
  }
  const made: Record<string, Call> = {}
  for (const [name, limitAt] of Object.entries(ACTIONS)) {
    const act = callOf(driver, name)
    made[name] = (...args) => within(act(...args), (args[limitAt] as number) + ACTION_GRACE_MS)
  }
  for (const name of QUESTIONS) {
    const ask = callOf(driver, name)
    made[name] = (...args) => within(ask(...args), questionMs())
  }
  const ask = made as unknown as Bounded
  return {
    ...ask,
    title: async () => (await ask.title()).slice(0, TEXT_MOST),
    url: async () => (await ask.url()).slice(0, TEXT_MOST),
    facts: driver.facts,
    broken: gone,
    identity: {
      keep: () => within(driver.identity.keep(), questionMs()),
      take: (state, limitMs) => within(driver.identity.take(state, limitMs), limitMs + ACTION_GRACE_MS),
    },
    takeLog: () => driver.takeLog(),
    settled: async () => void (await inTime(driver.settled?.() ?? Promise.resolve(), SETTLED_MS)),
    lost: () => driver.lost?.() ?? { console: 0, request: 0 },
    giveUp: () => {
      stuck = true
    },
    screen: (patient) => picture(driver.screen(), patient),
    ...(driver.network && { network: (change) => within(driver.network!(change), QUESTION_MS) }),
    ...(driver.exact && { exact: () => picture(driver.exact!(), true) }),
    ...(driver.display && { display: () => picture(driver.display!(), true) }),
    ...(driver.live && { live: driver.live.bind(driver) }),
    ...(driver.peek && { peek: () => picture(driver.peek!()) }),
    stopVideo: async () => {
      const video = await inTime(driver.stopVideo(), VIDEO_MS)
      return video === LATE ? undefined : video
    },
    close: async () => {
      downloads?.stop()
      const closed = await inTime(driver.close(), stuck ? STUCK_MS : CLOSE_MS)
      if (closed === LATE) end?.()
    },
  }
}

const callOf = (driver: BrowserDriver, name: string): Call =>
  (driver[name as keyof BrowserDriver] as Call).bind(driver)

export const tooBusy = (limitMs: number) =>
  new DriverFault(
    'time-limit',
    `the page did not answer within ${Math.ceil(limitMs / 1000)} s: it is busy without end, or the ` +
      'machine of the agent is',
  )

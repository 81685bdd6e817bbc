/** A driver of words for tests of the interpreter: what is on the page is a table, and what was done is a
 * list. */
import type { AddressInfo } from 'node:net'
import { createServer, type Server } from 'node:http'
import type { NumberedEvent, Work } from '@/core/execution'
import type { SignedInState, Step, TestCase } from '@/core/model'
import { DriverFault, virtualPace, type BrowserDriver, type Look } from '../../driver/port'
import type { LiveChannel } from '../../live/channel'
import { runAttempt, type Piece } from '..'
import { someWork } from '../../testing/work'
import type { OutgoingPolicy } from '@/node/outgoing'

export const seen = (text: string, extra: Partial<Look> = {}): Look => ({
  count: 1,
  text,
  value: '',
  states: ['visible', 'enabled'],
  found: { way: 'testId' },
  ...extra,
})

const NOTHING: Look = { count: 0, text: '', value: '', states: ['hidden'] }

/** What its browser keeps of who is signed in. */
export const SIGNED_IN: SignedInState = {
  cookies: [
    {
      name: 'pass',
      value: 'a-pass-of-twenty-chars',
      domain: 'app',
      path: '/',
      secure: false,
      httpOnly: true,
    },
  ],
  origin: 'http://app',
  stored: { local: { theme: 'dark' }, session: {} },
}

/** A driver of words: what is on the page is a table, and what was done is a list. */
function scripted(
  page: Record<string, Look | Error>,
  done: string[] = [],
  hidden: boolean[] = [],
): BrowserDriver {
  const act = async (what: string, name: string) => {
    done.push(`${what} ${name}`)
    const there = page[name]
    if (there instanceof Error) throw there
    if (!there) throw new DriverFault('target', `${name} is not on the page`)
    return { way: 'testId' }
  }
  const name = (target: { testId?: string; text?: string } | undefined) =>
    target?.testId ?? target?.text ?? ''
  return {
    facts: { browser: 'scripted' },
    conceal: async (texts, origins) => void done.push(`conceal ${[...texts, ...origins].join(' ')}`),
    open: async (url) => void done.push(`open ${url}`),
    go: async (where) => void done.push(`go ${where}`),
    click: (target, _, how = {}) => act(['click', ...Object.values(how)].join(' '), name(target)),
    choose: (target, option, _, also = []) => act(`choose ${[option, ...also].join(' ')} in`, name(target)),
    type: async (target, text, _, hide = false) => {
      hidden.push(hide)
      return { ...(await act(`type ${text} in`, name(target))), masked: false }
    },
    press: async (key) => {
      done.push(`press ${key}`)
      return undefined
    },
    hover: (target) => act('hover', name(target)),
    drag: (from, to) => act(`drag ${name(from)} to`, name(to)),
    upload: (target, files) => act(`upload ${files.map((file) => file.name).join(' ')} into`, name(target)),
    scrollTo: (target) => act('scroll to', name(target)),
    scrollBy: async (by, within) => {
      done.push(`scroll ${name(within)} by ${by}`)
      return false
    },
    windows: async () => [
      { title: 'Board', url: 'http://app/' },
      { title: 'Card', url: 'http://app/card' },
    ],
    showWindow: async (index) => void done.push(`window ${index}`),
    closeWindow: async () => void done.push('close window'),
    answerDialog: async (accept, text) => void done.push(`dialog ${accept} ${text}`),
    identity: {
      keep: async () => SIGNED_IN,
      take: async ({ origin }) => void done.push(`signed in to ${origin}`),
    },
    title: async () => 'Done',
    downloads: async () => ['card.txt'],
    dialogs: async () => ['The 9:40 is full'],
    attribute: async (target, attribute) => {
      const there = page[name(target)]
      return there && !(there instanceof Error) ? `${attribute} of ${name(target)}` : undefined
    },
    look: async (target) => {
      const there = page[name(target)]
      return there && !(there instanceof Error) ? there : NOTHING
    },
    url: async () => 'http://app/done',
    screen: async () => undefined,
    source: async () => '<html>',
    openDialog: async () => undefined,
    takeLog: () => [],
    stopVideo: async () => undefined,
    close: async () => void done.push('close'),
  }
}

export let api = 'http://api.invalid'

/** An API that answers, for the tests of a file; `api` is its address. */
export function withApi(): void {
  let server: Server
  beforeAll(async () => {
    server = createServer((request, response) => {
      if (request.url === '/slow') return
      const body = { method: request.method, url: request.url, list: [{ ref: 'FS-1' }, { ref: 'FS-2' }] }
      response
        .writeHead(request.url === '/missing' ? 404 : 200, { 'content-type': 'application/json' })
        .end(JSON.stringify(body))
    })
    await new Promise<void>((resolve) => server.listen(0, '127.0.0.1', resolve))
    api = `http://127.0.0.1:${(server.address() as AddressInfo).port}`
  })
  afterAll(() => {
    server.closeAllConnections()
    server.close()
  })
}

export async function attempt(
  steps: Step[],
  page: Record<string, Look | Error> = {},
  more: {
    testCase?: Partial<TestCase>
    work?: Partial<Work>
    signal?: AbortSignal
    outgoing?: OutgoingPolicy
    /** What the browser does otherwise. */
    driver?: Partial<BrowserDriver>
    live?: () => LiveChannel
  } = {},
) {
  const done: string[] = []
  const hidden: boolean[] = []
  const events: NumberedEvent[] = []
  const pieces: Piece[] = []
  const work = someWork(
    { applications: { app: 'http://app', api }, ...more.work },
    { steps, ...more.testCase },
  )
  const result = await runAttempt(work, {
    driver: { ...scripted(page, done, hidden), ...more.driver },
    pace: virtualPace(),
    sink: { event: (event) => void events.push(event), evidence: (piece) => void pieces.push(piece) },
    agent: 'one',
    signal: more.signal ?? new AbortController().signal,
    ...(more.outgoing && { outgoing: more.outgoing }),
    ...(more.live && { live: more.live }),
  })
  const ended = events.flatMap((event) =>
    event.type === 'step-ended'
      ? [`${event.path} ${event.outcome}${event.note ? `: ${event.note}` : ''}`]
      : [],
  )
  return { result, done, events, ended, hidden, pieces }
}

export const click = (text: string): Step => ({ verb: 'click', on: { text } })

export const check = (testId: string, equals: string, soft = false): Step => ({
  verb: 'check',
  of: { testId },
  subject: 'text',
  matcher: { equals },
  soft,
})

/** A thin client of the W3C WebDriver protocol (w3.org/TR/webdriver2): one session. */

import type { Cookie } from '@/core/model'

/** What the other side refused, with its own word for it. */
export class WebDriverError extends Error {
  constructor(
    readonly code: string,
    message: string,
  ) {
    super(message)
  }
}

/** How the protocol writes a reference to an element. */
const ELEMENT = 'element-6066-11e4-a52e-4f735466cecf'
export type ElementRef = { [ELEMENT]: string }
const idOf = (element: ElementRef) => element[ELEMENT]

/** `expiry` in seconds since 1970. */
type SessionCookie = Omit<Cookie, 'expires'> & { expiry?: number }

const REQUEST_LIMIT_MS = 60_000
/** Calls one after the other that nobody takes: the driver is gone, and not just a network for a moment. */
const UNTAKEN_MOST = 3
/** What is not answered by then may never be. */
const UNANSWERED_MS = 1500

export class WebDriverSession {
  /** Comes when the driver or its browser is not there any more. */
  readonly gone: Promise<void>
  private isGone!: () => void
  private untaken = 0

  private constructor(
    private readonly base: string,
    readonly capabilities: Record<string, unknown>,
  ) {
    this.gone = new Promise((resolve) => (this.isGone = resolve))
  }

  /** @param endpoint address of the driver; @param wanted capabilities that have to hold */
  static async start(endpoint: string, wanted: Record<string, unknown>): Promise<WebDriverSession> {
    const { sessionId, capabilities } = await send<{
      sessionId: string
      capabilities: Record<string, unknown>
    }>('POST', `${endpoint}/session`, { capabilities: { alwaysMatch: wanted } })
    return new WebDriverSession(`${endpoint}/session/${sessionId}`, capabilities)
  }

  goto = (url: string) => this.post('/url', { url })
  go = (where: 'back' | 'forward' | 'reload') => this.post(where === 'reload' ? '/refresh' : `/${where}`, {})
  url = () => this.get<string>('/url')
  title = () => this.get<string>('/title')
  timeouts = (pageLoad: number) => this.post('/timeouts', { pageLoad, implicit: 0, script: 30_000 })
  /** Scripts of a page run one after the other: where a later one is answered first, the page went away with
   * the earlier one. */
  execute = <T>(script: string, args: readonly unknown[]): Promise<T> =>
    answered([
      () => this.run<T>(script, args),
      () =>
        this.run('', []).then(() => {
          throw new WebDriverError('no such document', 'the page went away before it answered')
        }),
    ])
  /** For a script that may run twice without harm: where its page went away, the next one is asked. The first
   * page of a browser that just started goes away by itself. */
  read = <T>(script: string): Promise<T> => twice(() => this.run<T>(script, []))
  /** `null`: the page's own document. */
  switchTo = (frame: ElementRef | null) =>
    frame ? this.post('/frame', { id: frame }) : twice(() => this.post('/frame', { id: null }))
  click = (element: ElementRef) => this.post(`/element/${idOf(element)}/click`, {})
  sendKeys = (element: ElementRef, text: string) => this.post(`/element/${idOf(element)}/value`, { text })
  actions = (actions: readonly object[]) => this.post('/actions', { actions })
  /** The window that is worked in. */
  window = () => this.get<string>('/window')
  windows = () => this.get<string[]>('/window/handles')
  showWindow = (handle: string) => this.post('/window', { handle })
  closeWindow = () => send('DELETE', `${this.base}/window`)
  windowRect = (rect: { width: number; height: number }) => this.post('/window/rect', rect)
  /** Those of the page that is shown. */
  cookies = async (): Promise<Cookie[]> =>
    (await this.get<SessionCookie[]>('/cookie')).map(({ expiry, ...cookie }) => ({
      ...cookie,
      ...(expiry && { expires: expiry }),
    }))
  /** Only those for the page that is shown are taken. */
  async setCookies(cookies: readonly Cookie[]): Promise<void> {
    for (const { expires, ...cookie } of cookies)
      await this.post('/cookie', {
        cookie: { ...cookie, ...(expires !== undefined && { expiry: Math.floor(expires) }) },
      }).catch((error: unknown) => {
        if (!(error instanceof WebDriverError && error.code === 'invalid cookie domain')) throw error
      })
  }
  screenshot = () => this.get<string>('/screenshot')
  alertText = () => this.get<string>('/alert/text')
  sendAlertText = (text: string) => this.post('/alert/text', { text })
  acceptAlert = () => this.post('/alert/accept', {})
  dismissAlert = () => this.post('/alert/dismiss', {})
  end = () => send('DELETE', this.base)

  private run = <T>(script: string, args: readonly unknown[]) =>
    this.post<T>('/execute/sync', { script, args })
  private get = <T>(path: string) => twice(() => this.watched(send<T>('GET', this.base + path)))
  private post = <T = null>(path: string, body: object) =>
    this.watched(send<T>('POST', this.base + path, body))

  private async watched<T>(sent: Promise<T>): Promise<T> {
    try {
      const answer = await sent
      this.untaken = 0
      return answer
    } catch (error) {
      const isTaken = error instanceof WebDriverError
      this.untaken = isTaken ? 0 : this.untaken + 1
      const hasEnded = isTaken && error.code === 'invalid session id'
      if (hasEnded || this.untaken >= UNTAKEN_MOST) this.isGone()
      throw error
    }
  }
}

const twice = <T>(ask: () => Promise<T>): Promise<T> => answered([ask, ask])

/** WebKit never answers what it was asked while a page of another site takes the place of one: the process
 * that had the question is gone.
 * @param ways to ask: the second, once the first was not answered for a while
 * @returns what was answered first, whether well or with an error */
export function answered<T>([first, second]: readonly [() => Promise<T>, () => Promise<T>]): Promise<T> {
  return new Promise((resolve, reject) => {
    const timer = setTimeout(() => second().then(resolve, reject), UNANSWERED_MS)
    const end = <A>(settle: (answer: A) => void) => {
      return (answer: A) => {
        clearTimeout(timer)
        settle(answer)
      }
    }
    first().then(end(resolve), end(reject))
  })
}

/** @throws {WebDriverError} */
async function send<T>(method: string, url: string, body?: object): Promise<T> {
  const response = await fetch(url, {
    method,
    redirect: 'error',
    signal: AbortSignal.timeout(REQUEST_LIMIT_MS),
    ...(body && {
      body: JSON.stringify(body),
      headers: { 'content-type': 'application/json; charset=utf-8' },
    }),
  })
  const { value } = (await response.json()) as { value: T & { error?: string; message?: string } }
  if (!response.ok)
    throw new WebDriverError(
      value?.error ?? String(response.status),
      value?.message ?? `the driver answers ${response.status}`,
    )
  return value
}

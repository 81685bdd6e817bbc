/** Opens addresses in a window of Firefox. */
import type { HTTPRequest, HTTPResponse, Page } from 'puppeteer-core'

type Window = Pick<Page, 'goto' | 'on' | 'off'>

export class Opening {
  /** What the browser said of the address before. */
  private failed: string | undefined

  /** @returns the answer; nothing where the page came without one that is told
   * @throws {Error} why it does not come, in the words of the browser */
  async open(page: Window, url: string, limitMs: number): Promise<HTTPResponse | undefined> {
    for (;;) {
      const loaded = loadOf(page, url)
      const said = page.goto(url, { timeout: Math.max(1, limitMs), waitUntil: 'load' })
      try {
        const response = await Promise.race([said, loaded.promise])
        this.failed = undefined
        return response ?? undefined
      } catch (error) {
        const { message } = error as Error
        // The failure of the address before can come once more, with this one, which was not even asked for.
        const isOfBefore = message === this.failed && !loaded.isAsked()
        this.failed = isOfBefore ? undefined : message
        if (!isOfBefore) throw error
      } finally {
        loaded.stop()
        said.catch(() => {}) // where the other was first
      }
    }
  }
}

/** Resolves when the page at an address has loaded. After a download `page.goto` never ends, though the page
 * comes: it waits for the navigation that the download was. */
function loadOf(
  page: Window,
  url: string,
): { promise: Promise<undefined>; isAsked(): boolean; stop(): void } {
  const listening = new AbortController()
  let asked = false
  const promise = new Promise<undefined>((resolve) => {
    const onRequest = (request: HTTPRequest) => {
      const [first = request] = request.redirectChain()
      asked ||= request.isNavigationRequest() && first.url() === new URL(url).href
    }
    const onLoad = () => asked && resolve(undefined)
    page.on('request', onRequest)
    page.on('load', onLoad)
    listening.signal.addEventListener('abort', () => {
      page.off('request', onRequest)
      page.off('load', onLoad)
    })
  })
  return { promise, isAsked: () => asked, stop: () => listening.abort() }
}

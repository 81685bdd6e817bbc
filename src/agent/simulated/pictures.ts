/** Screens for the simulated fleet: the page it is on, drawn once by a real Chromium, small, and kept.
 * The drawing also tells what layout hides from a parsed page: where elements are and which are covered. */
import { createHash } from 'node:crypto'
import type { CDPSession, Page } from 'playwright-core'
import type { Environment } from '@/core/model'
import type { Box } from '@/core/execution'
import type { BrowserHolder } from '../chromium/browser'
import type { ScreenShot } from '../driver/port'

/** Elements are told apart by their number among these, in document order. */
export const PICTURED = 'a, button, input, select, textarea, [data-testid], [role], tr'
type Canvas = { page: Page; cdp: CDPSession }
export type Picture = { shot: ScreenShot; boxes: Record<number, Box>; covered: Record<number, string> }

const SCALE = 0.5
const KEPT = 5000
/** Pages drawn at once: what two cores carry. */
const AT_ONCE = 2

/** References differ in every booking. Drawn without their digits, one picture serves all, and none shows a
 * wrong one. */
export const withoutReferences = (html: string) => html.replace(/FS-\d+/g, 'FS-•••••')

export class PictureMaker {
  private readonly kept = new Map<string, Picture>()
  private readonly canvases = new Map<string, Promise<Canvas>>()
  private readonly queues: Promise<unknown>[] = Array.from({ length: AT_ONCE }, () => Promise.resolve())
  private turn = 0
  constructor(private readonly holder: BrowserHolder) {}

  /** The picture of a page as this environment would show it; `undefined` where there is no Chromium to draw
   * it. */
  async of(html: string, environment: Environment): Promise<Picture | undefined> {
    const plain = withoutReferences(html)
    const key = createHash('sha1').update(`${environment.width}x${environment.height}/${plain}`).digest('hex')
    const known = this.kept.get(key)
    if (known) return known
    const lane = this.turn++ % AT_ONCE
    const drawn = this.queues[lane]!.then(() => this.kept.get(key) ?? this.draw(plain, environment, lane))
    this.queues[lane] = drawn.catch(() => {})
    const picture = await drawn.catch(() => undefined)
    if (picture) {
      if (this.kept.size >= KEPT) this.kept.delete(this.kept.keys().next().value!)
      this.kept.set(key, picture)
    }
    return picture
  }

  /** Straight through the protocol: half the time of the library's own calls, which wait for more than a
   * still page needs. */
  private async draw(html: string, environment: Environment, lane: number): Promise<Picture> {
    const { page, cdp } = await this.canvas(environment, lane)
    if (html.includes('<iframe')) await page.setContent(html, { waitUntil: 'load', timeout: 5000 })
    else
      await cdp.send('Page.setDocumentContent', {
        frameId: (await cdp.send('Page.getFrameTree')).frameTree.frame.id,
        html,
      })
    const { data } = await cdp.send('Page.captureScreenshot', {
      format: 'jpeg',
      quality: 60,
      optimizeForSpeed: true,
    })
    const { boxes, covered } = await page.evaluate(measure, PICTURED)
    return {
      shot: {
        bytes: Buffer.from(data, 'base64'),
        mime: 'image/jpeg',
        width: environment.width,
        height: environment.height,
      },
      boxes,
      covered,
    }
  }

  private canvas({ width, height }: Environment, lane: number): Promise<Canvas> {
    const size = `${width}x${height}/${lane}`
    const known = this.canvases.get(size)
    if (known) return known
    const opened = this.holder.get().then(async (browser) => {
      const context = await browser.newContext({ viewport: { width, height }, deviceScaleFactor: SCALE })
      // the page is given whole; nothing may be fetched in its name
      await context.route('**/*', (route) => route.abort())
      const page = await context.newPage()
      return { page, cdp: await context.newCDPSession(page) }
    })
    this.canvases.set(size, opened)
    opened.then(
      ({ page }) => page.once('close', () => this.canvases.delete(size)),
      () => this.canvases.delete(size),
    )
    return opened
  }
}

/** Runs in the page. */
function measure(selector: string) {
  const boxes: Record<number, { x: number; y: number; w: number; h: number }> = {}
  const covered: Record<number, string> = {}
  document.querySelectorAll(selector).forEach((element, i) => {
    let rect = element.getBoundingClientRect()
    if (rect.width === 0 || rect.height === 0) return
    boxes[i] = {
      x: Math.round(rect.x),
      y: Math.round(rect.y),
      w: Math.round(rect.width),
      h: Math.round(rect.height),
    }
    if (!element.matches('a, button, input, select, textarea')) return
    if (rect.bottom > innerHeight || rect.top < 0) {
      element.scrollIntoView({ block: 'center' })
      rect = element.getBoundingClientRect()
    }
    const top = document.elementFromPoint(rect.x + rect.width / 2, rect.y + rect.height / 2)
    if (top && !element.contains(top) && !top.contains(element))
      covered[i] = top.tagName.toLowerCase() + [...top.classList].map((name) => `.${name}`).join('')
  })
  scrollTo(0, 0)
  return { boxes, covered }
}

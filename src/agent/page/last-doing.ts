/** What a person did last on a page that another site's page took the place of. Nobody was told: what a page
 * keeps until it is asked (telling.ts) goes to no other site. So it is known from the outside: what was under
 * the pointer when it was pressed, or which field had the key. */
import type { ElementFacts, RecordedEvent } from '@/core/live'
import type { Done, Input, Seen } from '../driver/live'

/** Further than this the pointer draws a line, and clicks nothing. */
const STILL_PX = 5
/** A page that leads on later than this does so by itself. */
const LEADS_MS = 20_000
/** Keys that lead to other pages. */
const LEADING = new Set(['Enter', ' '])
/** Keys and clicks that a page tells of itself. */
const TOLD = new Set<RecordedEvent['kind']>(['click', 'key', 'choice', 'tick', 'drag'])

type Press = { atMs: number; origin: string; x: number; y: number; event: Done }

export class LastDoing {
  private pending: Press | undefined
  private newest: Done | undefined
  /** What was given as lost. */
  private given: Done | undefined

  constructor(
    private readonly page: {
      /** Of the page that is there now, as it says itself: it waits for dialogs as whatever else is asked. */
      origin(): Promise<string>
      factsAt(x: number, y: number): Promise<ElementFacts | null>
    },
    private readonly now: () => number,
  ) {}

  /** Whether what was told so far has to be known before this is carried out. */
  static leads = (order: Input): boolean =>
    (order.do === 'mouse' && order.type === 'down') ||
    (order.do === 'key' && order.type === 'down' && LEADING.has(order.key))

  /** Before it is carried out, and after what was told so far is known. */
  async before(order: Input): Promise<void> {
    const { pending } = this
    if (order.do === 'mouse' && order.type === 'up' && pending) {
      const isStill = Math.hypot(order.x - pending.x, order.y - pending.y) <= STILL_PX
      this.pending = isStill ? { ...pending, atMs: this.now() } : undefined
    }
    if (!LastDoing.leads(order)) return
    this.pending = undefined
    const origin = siteOf(await this.page.origin().catch(() => ''))
    if (order.do === 'key') {
      const { key, with: held } = order
      const field = this.newest && 'element' in this.newest ? this.newest.element : undefined
      const event: Done = { kind: 'key', key, with: held, ...(field && { element: field }) }
      this.pending = { atMs: this.now(), origin, x: 0, y: 0, event }
    } else if (order.do === 'mouse' && order.button === 'left') {
      const { x, y, clicks, button, with: held } = order
      const element = await this.page.factsAt(x, y).catch(() => null)
      if (!element) return
      const event: Done = {
        kind: 'click',
        element,
        button,
        times: Math.max(1, clicks),
        with: held,
        byKey: false,
      }
      this.pending = { atMs: this.now(), origin, x, y, event }
    }
  }

  /** What a page told by itself. */
  told(event: Seen): void {
    if (event.kind === 'screen') return
    this.newest = event
    if (TOLD.has(event.kind)) this.pending = undefined
  }

  /** After a page was asked for what it tells. @returns what led to the page that is there now, untold */
  async lost(): Promise<Done | undefined> {
    const { pending } = this
    if (!pending) return undefined
    if (this.now() - pending.atMs > LEADS_MS) this.pending = undefined
    const origin = siteOf(await this.page.origin().catch(() => ''))
    if (this.pending !== pending || origin === '' || pending.origin === '' || origin === pending.origin)
      return undefined
    this.pending = undefined
    this.given = pending.event
    return pending.event
  }

  /** A page that is come back to may tell what led away from it. @returns whether that is known; once */
  gaveAlready(event: Seen): boolean {
    const { given } = this
    const isIt = given !== undefined && given.kind === event.kind && placeOf(given) === placeOf(event)
    if (isIt) this.given = undefined
    return isIt
  }
}

const placeOf = (event: Seen) => ('element' in event ? event.element?.css : undefined)

/** "" of what is no page of a site: nothing leads there or away. */
const siteOf = (origin: string): string => (origin.startsWith('http') ? origin : '')

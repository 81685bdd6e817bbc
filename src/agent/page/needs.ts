/** Runs in the page, beside its scripts: what an element needed before a person could do something to it. The
 * pointer had to stand on another one, something had to be scrolled, or what was done before had to have its
 * effect. */
import type { RecordedEvent } from '@/core/live'
import { factsOf, MEANT, meantBy, nameOf } from './facts'

type Untimed<E> = E extends RecordedEvent ? Omit<E, 'atMs'> : never
export type Need = Untimed<Extract<RecordedEvent, { kind: 'hover' | 'scroll' | 'wait' }>>

/** What comes so soon after the pointer, or the wheel, came of it. */
const [POINTER_MS, WHEEL_MS] = [600, 5000]
/** What was done has had its effect by then, if it comes at once. */
const EFFECT_MS = 500
/** Later it is no effect of what was done. */
const EFFECT_MOST_MS = 10_000
/** What came since something was done, and where the pointer was since: the newest. */
const [CAME_MOST, STATIONS_MOST] = [60, 12]
const MEANT_MOST = 2000
/** Facts of one are looked for all over the page. */
const TRIES_MOST = 4
const NAMED =
  'h1, h2, h3, [role=status], [role=alert], [role=dialog], dialog, table, [role=grid], ' +
  '[role=region], section[aria-label], button, a[href]'

/** `changedAt`: when the page changed first after the pointer had come there. */
type Station = { element: Element; at: number; hidden: ReadonlySet<Element>; changedAt?: number }
type Came = { element: Element; at: number; by: 'pointer' | 'wheel' | 'act'; pointedAt?: Element }

const observed = {
  attributes: true,
  childList: true,
  characterData: true,
  subtree: true,
}

export class Needs {
  private stations: Station[] = []
  private came: Came[] = []
  private actedAt = 0
  private wheel: { element: Element | undefined; at: number } | undefined
  private changedAt = 0
  private readonly roots = new WeakSet<Node>()
  /** Is told of each change. */
  onChange: (() => void) | undefined
  private readonly observer = new MutationObserver((records) => this.changed(records))

  constructor() {
    this.watch(document)
  }

  /** When anything on the page changed last. */
  get lastChange(): number {
    this.changed(this.observer.takeRecords())
    return this.changedAt
  }

  /** The pointer came to an element. */
  pointed(element: Element): void {
    const root = element.getRootNode()
    if (root instanceof ShadowRoot) this.watch(root)
    const meant = meantBy(element)
    if (this.stations.at(-1)?.element === meant) return
    this.stations.push({ element: meant, at: performance.now(), hidden: hiddenNow() })
    if (this.stations.length > STATIONS_MOST) this.stations.shift()
  }

  wheeled(element: Element | undefined): void {
    this.wheel = { element: scrollerOf(element), at: performance.now() }
  }

  /** What is needed before something is done to an element now. */
  before(element: Element): Need[] {
    this.changed(this.observer.takeRecords())
    const newest = this.came.findLast((one) => one.element.contains(element))
    if (newest?.by === 'wheel') {
      const within = this.wheel?.element
      return [{ kind: 'scroll', element: factsOf(element), ...(within && { within: factsOf(within) }) }]
    }
    const pointedAt = newest?.by === 'pointer' ? newest.pointedAt : this.shownBy(element)
    if (pointedAt?.isConnected && !isWhole(pointedAt) && !element.contains(pointedAt))
      return [{ kind: 'hover', element: factsOf(pointedAt) }]
    // one that came by itself is waited for by its own step
    return newest ? [] : this.waitedFor()
  }

  /** Something was done: what comes now came of that. */
  acted(): void {
    this.changed(this.observer.takeRecords())
    this.actedAt = performance.now()
    this.stations = this.stations.slice(-1)
    this.came = []
    this.wheel = undefined
  }

  /** Something with a name that came since something was done. */
  named(afterMs = 0): Element | undefined {
    let tries = TRIES_MOST
    const effects = this.came.filter(({ at, by }) => by === 'act' && at - this.actedAt >= afterMs)
    for (const { element } of effects.toReversed()) {
      const inner = element.matches(NAMED) ? [element] : [...element.querySelectorAll(NAMED)].slice(0, 3)
      for (const one of inner) {
        if (!element.isConnected || !isShown(one) || !isSteadyName(nameOf(one))) continue
        if (tries-- === 0) return undefined
        const { counts } = factsOf(one)
        if (counts.role === 1 || counts.text === 1) return one
      }
    }
    return undefined
  }

  private watch(root: Document | ShadowRoot): void {
    if (this.roots.has(root)) return
    this.roots.add(root)
    this.observer.observe(root, observed)
  }

  private changed(records: readonly MutationRecord[]): void {
    if (records.length === 0) return
    const now = performance.now()
    this.changedAt = now
    const station = this.stations.at(-1)
    if (station) station.changedAt ??= now
    const gone = new Set(records.flatMap(({ removedNodes }) => [...removedNodes].map(likeness)))
    for (const node of records.flatMap(shownIn))
      // what was only drawn anew was there before
      if (node instanceof Element && !gone.has(likeness(node))) this.came.push(this.cause(node, now))
    this.came = this.came.filter(({ element }) => element.isConnected).slice(-CAME_MOST)
    this.onChange?.()
  }

  private cause(element: Element, at: number): Came {
    if (this.wheel && at - this.wheel.at <= WHEEL_MS) return { element, at, by: 'wheel' }
    const station = this.stations.at(-1)
    const isOfPointer = station && station.at > this.actedAt && at - station.at <= POINTER_MS
    return isOfPointer
      ? { element, at, by: 'pointer', pointedAt: station.element }
      : { element, at, by: 'act' }
  }

  /** Where the pointer stood when an element was shown that had been hidden. */
  private shownBy(element: Element): Element | undefined {
    const last = this.stations.findLastIndex(({ hidden }) => hidden.has(element))
    const station = this.stations[last]
    if (!station) return undefined
    const next = this.stations[last + 1]
    const { changedAt = Infinity } = station
    // scripts of the page show it some time after the pointer came; its styles at once, so that it was seen
    // when the pointer came to the next one
    if (next && changedAt > next.at && !station.hidden.has(next.element)) return next.element
    return changedAt - station.at <= POINTER_MS ? station.element : undefined
  }

  private waitedFor(): Need[] {
    if (performance.now() - this.actedAt > EFFECT_MOST_MS) return []
    const one = this.named(EFFECT_MS)
    return one ? [{ kind: 'wait', element: factsOf(one) }] : []
  }
}

/** What was added, or uncovered by an attribute. */
const shownIn = ({ type, target, attributeName, addedNodes }: MutationRecord): Node[] => {
  if (type === 'childList') return [...addedNodes]
  const element = target as HTMLElement
  const isShownNow =
    (attributeName === 'hidden' && !element.hidden) ||
    (attributeName === 'open' && element.hasAttribute('open'))
  return isShownNow ? [element] : []
}
/** The pointer is always somewhere on it. */
const isWhole = (element: Element) => element === document.body || element === document.documentElement

/** Of things that are drawn anew: the same kind of element in the same dress. */
const likeness = (node: Node): string =>
  node instanceof Element ? `${node.tagName} ${node.getAttribute('class') ?? ''}` : node.nodeName

const isShown = (element: Element): boolean =>
  element.checkVisibility?.({ checkOpacity: true, checkVisibilityCSS: true }) ??
  element.getClientRects().length > 0

/** Those that a person could do something to, if they were seen. */
const hiddenNow = (): ReadonlySet<Element> =>
  new Set([...document.querySelectorAll(MEANT)].slice(0, MEANT_MOST).filter((one) => !isShown(one)))

/** A number, a time or what somebody typed is another one the next time. */
const isSteadyName = (name: string): boolean => name.length > 1 && name.length <= 60 && !/\d/.test(name)

/** What the wheel moves; absent: the page. */
function scrollerOf(element: Element | undefined): Element | undefined {
  for (let one = element; one && one !== document.documentElement && one !== document.body;) {
    const { overflowY } = getComputedStyle(one)
    if (one.scrollHeight > one.clientHeight + 1 && /auto|scroll/.test(overflowY)) return one
    one = one.parentElement ?? undefined
  }
  return undefined
}

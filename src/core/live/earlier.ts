/** Names that stood more than once on screens that a page showed before: such a name finds an element alone
 * today, and another one, or two, tomorrow. */
import { FACT_WAYS, type ElementFacts, type FactWay } from './facts'
import { looksGenerated } from './target'

/** What a page shows when something is done there. */
export type ScreenSeen = {
  /** Path of its address. */
  page: string
  /** Ways that find more than one element, as `keyOfWay` writes them. */
  repeats: string[]
}
/** Pages and names that are remembered; of one page the newest are forgotten last. */
const [PAGES_MOST, REPEATS_MOST] = [200, 1000]
const [PATH_MOST, KEY_MOST] = [2000, 500]

/** A way with what it is looked for by, as one text.
 * @param name of a role */
export const keyOfWay = (way: FactWay, written: string, name = ''): string =>
  way === 'role' ? `role ${written} ${name}` : `${way} ${written}`

/** Addresses of one page: numbers and made ids in them are another booking, and the same page. */
const pageOf = (path: string): string =>
  path
    .split('/')
    .map((part) => (/\d/.test(part) || looksGenerated(part) ? '*' : part))
    .join('/')

/** Remembers screens in the order in which they were seen. */
export class EarlierScreens {
  private readonly pages = new Map<string, Set<string>>()
  private page = ''

  /** What a page says is not believed to be what it should be. */
  add({ page, repeats }: ScreenSeen): void {
    if (typeof page !== 'string' || !Array.isArray(repeats)) return
    this.page = pageOf(page.slice(0, PATH_MOST))
    const known = this.pages.get(this.page) ?? new Set()
    this.pages.set(this.page, known)
    for (const key of repeats.slice(0, REPEATS_MOST)) known.add(String(key).slice(0, KEY_MOST))
    for (const key of known) {
      if (known.size <= REPEATS_MOST) break
      known.delete(key)
    }
    const [oldest] = this.pages.keys()
    if (this.pages.size > PAGES_MOST) this.pages.delete(oldest!)
  }

  /** An event with what is known of the elements it is about. */
  withRepeatedOf<E extends object>(event: E): E {
    const { element, onto } = { ...event } as { element?: ElementFacts; onto?: ElementFacts }
    return {
      ...event,
      ...(element && { element: this.withRepeated(element) }),
      ...(onto && { onto: this.withRepeated(onto) }),
    }
  }

  /** What is known of an element, with the ways that found several on a screen of this page. */
  withRepeated<F extends ElementFacts | undefined>(facts: F): F {
    const known = this.pages.get(this.page)
    if (!facts || !known) return facts
    const repeated = FACT_WAYS.filter((way) => {
      const written = facts[way]
      return written !== undefined && known.has(keyOfWay(way, written, facts.name).slice(0, KEY_MOST))
    })
    return repeated.length === 0 ? facts : { ...facts, repeated }
  }
}

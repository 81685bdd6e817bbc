/** Runs in the page: what records may live in a world of its own beside what answers questions, so that they
 * talk by events of the document. */
import { targetOf, type ElementFacts } from '@/core/live'
import type { Target } from '@/core/model'

const [ASKS, ANSWERS] = ['oak-asks-what-shows', 'oak-shown-by']

/** @returns what the pointer has to stand on for an element to be seen; `undefined`: nothing, as far as is
 * known */
export function askWhatShows(element: Element): Target | undefined {
  let answer: string | undefined
  const hear = (event: Event) => (answer = (event as CustomEvent<string>).detail)
  document.addEventListener(ANSWERS, hear)
  element.dispatchEvent(new Event(ASKS, { bubbles: true, composed: true }))
  document.removeEventListener(ANSWERS, hear)
  try {
    const target = answer === undefined ? undefined : (JSON.parse(answer) as Target)
    return isPlain(target) ? target : undefined
  } catch {
    return undefined
  }
}

/** A page may answer, too: what it likes. */
const isPlain = (target: Target | undefined | null): target is Target =>
  typeof target === 'object' &&
  Object.values(target ?? {}).every((one) => ['string', 'number'].includes(typeof one))

/** @param shownBy of an element that somebody asks about */
export function answerWhatShows(shownBy: (element: Element) => ElementFacts | undefined): void {
  document.addEventListener(
    ASKS,
    (event) => {
      const [element] = event.composedPath()
      const facts = element instanceof Element ? shownBy(element) : undefined
      const target = facts && targetOf(facts)
      if (target) document.dispatchEvent(new CustomEvent(ANSWERS, { detail: JSON.stringify(target) }))
    },
    { capture: true },
  )
}

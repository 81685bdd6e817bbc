/** Runs in the page: names that more than one thing has now that a person could do something to. */
import { getRole } from 'dom-accessibility-api'
import { keyOfWay, type ScreenSeen } from '@/core/live'
import { cssOf, labelOf, MEANT, nameOf, NAME_MOST, tidy } from './facts'
import { all } from './find'

/** A click waits for it: so many things are looked at, and so long. */
const [THINGS_MOST, TIME_MOST_MS, REPEATS_MOST] = [400, 25, 100]

/** As far as there is time; `undefined`: nothing new since it was asked last. */
export class ScreenRepeats {
  private last = ''

  now(): ScreenSeen | undefined {
    const repeats = repeatsOnPage()
    const page = location.pathname
    const seen = JSON.stringify([page, repeats])
    if (seen === this.last) return undefined
    this.last = seen
    return { page, repeats }
  }
}

function repeatsOnPage(): string[] {
  const begun = performance.now()
  const counts = new Map<string, number>()
  for (const element of all(MEANT).slice(0, THINGS_MOST)) {
    if (performance.now() - begun > TIME_MOST_MS) break
    for (const key of keysOf(element)) counts.set(key, (counts.get(key) ?? 0) + 1)
  }
  return [...counts].flatMap(([key, count]) => (count > 1 ? [key] : [])).slice(0, REPEATS_MOST)
}

function keysOf(element: Element): string[] {
  const role = getRole(element)
  const name = nameOf(element).slice(0, NAME_MOST)
  const label = labelOf(element).slice(0, NAME_MOST)
  const text = tidy(element.textContent)
  const [placeholder, testId] = [element.getAttribute('placeholder'), element.getAttribute('data-testid')]
  const css = cssOf(element)
  return [
    ...(role && name ? [keyOfWay('role', role, name)] : []),
    ...(label ? [keyOfWay('label', label)] : []),
    ...(text && text.length <= NAME_MOST ? [keyOfWay('text', text)] : []),
    ...(placeholder ? [keyOfWay('placeholder', placeholder)] : []),
    ...(testId ? [keyOfWay('testId', testId)] : []),
    ...(css ? [keyOfWay('css', css)] : []),
  ]
}

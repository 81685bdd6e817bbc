import type { Frame, Locator, Page } from 'playwright-core'
import { waysInPage, type Target, type WayInPage } from '@/core/model'
import { notOne } from '../driver/ambiguous'
import { placesOf } from '../page/places'
import { finderOf, needsFinder } from './finder'

/** `inFrame`: not in the page's own document. */
export type Located = { locator: Locator; way: WayInPage; inFrame: boolean }

const POLL_MS = 60

/** What a way may mean, the usual first: the next is asked only when nothing is found. */
function locatorsFor(frame: Frame, target: Target, way: WayInPage): Locator[] {
  if (way === 'spot' || needsFinder(target)) return [finderOf(frame, target, way)]
  if (way === 'label')
    return [
      frame.getByLabel(target.label!, { exact: true }),
      finderOf(frame, target, way), // what a list inside its label offers is not among the label's words
      named(frame, target.label!),
    ]
  return [locatorFor(frame, target, way)]
}

function locatorFor(frame: Frame, target: Target, way: Exclude<WayInPage, 'label' | 'spot'>): Locator {
  switch (way) {
    case 'testId':
      return frame.locator(`[data-testid=${JSON.stringify(target.testId)}]`)
    case 'role':
      return frame.getByRole(
        target.role as 'button',
        target.name === undefined ? {} : { name: target.name, exact: true },
      )
    case 'placeholder':
      return frame.getByPlaceholder(target.placeholder!, { exact: true })
    case 'text':
      return frame.getByText(target.text!, { exact: true })
    case 'css':
      return frame.locator(target.css!)
  }
}

const FIELDS = ['combobox', 'textbox', 'checkbox', 'listbox', 'spinbutton'] as const
/** Fields that have a name by other means. */
const named = (frame: Frame, name: string): Locator =>
  FIELDS.map((role) => frame.getByRole(role, { name, exact: true })).reduce((all, one) => all.or(one))

/** How many elements each way of the target finds now, over the page and its frames; the first way that finds
 * any comes first. */
export async function candidates(page: Page, target: Target): Promise<(Located & { count: number })[]> {
  const found: (Located & { count: number })[] = []
  for (const way of waysInPage(target)) {
    const hit = await firstHit(page.frames().map((frame) => locatorsFor(frame, target, way)))
    if (hit) found.push({ ...hit, way })
  }
  return found
}

/** @param inFrames what a way may mean, for each frame */
async function firstHit(
  inFrames: readonly Locator[][],
): Promise<Omit<Located & { count: number }, 'way'> | undefined> {
  for (let meaning = 0; meaning < (inFrames[0]?.length ?? 0); meaning++) {
    const locators = inFrames.map((meanings) => meanings[meaning]!)
    // a frame may go away while we look
    const counts = await Promise.all(locators.map((locator) => locator.count().catch(() => 0)))
    const count = counts.reduce((sum, n) => sum + n, 0)
    const first = counts.findIndex((n) => n > 0)
    if (count > 0) return { locator: locators[first]!, inFrame: first > 0, count }
  }
  return undefined
}

/** What the first way of a target means usually. */
export function usualLocator(frame: Frame, target: Target): Located | undefined {
  const [way] = waysInPage(target)
  if (!way) return undefined
  const [locator, next] = locatorsFor(frame, target, way)
  return { locator: next ? locator!.or(next) : locator!, way, inFrame: false }
}

/** Waits until one way finds exactly one element. @throws {DriverFault} target: none, or too many */
export async function locate(page: Page, target: Target, limitMs: number): Promise<Located> {
  const until = performance.now() + limitMs
  for (;;) {
    const found = await candidates(page, target)
    const one = found.find(({ count }) => count === 1)
    if (one) return one
    if (performance.now() >= until) {
      const [many] = found
      // what a frame adds to those of the first is counted, not listed
      const places = await many?.locator.evaluateAll(placesOf).catch(() => [])
      throw notOne(target, many?.count ?? 0, places)
    }
    await new Promise((resolve) => setTimeout(resolve, POLL_MS))
  }
}

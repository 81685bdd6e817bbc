import type { Frame, Locator, Page } from 'playwright-core'
import { TARGET_WAYS, type Target } from '@/core/model'
import { notOne } from '../driver/ambiguous'
import { placesOf } from '../page/places'
import { finderOf, needsFinder } from './finder'

export type Way = (typeof TARGET_WAYS)[number]
export type Located = { locator: Locator; way: Way }

const POLL_MS = 60

function locatorFor(frame: Frame, target: Target, way: Way): Locator {
  if (needsFinder(target)) return finderOf(frame, target, way)
  switch (way) {
    case 'testId':
      return frame.locator(`[data-testid=${JSON.stringify(target.testId)}]`)
    case 'role':
      return frame.getByRole(
        target.role as 'button',
        target.name === undefined ? {} : { name: target.name, exact: true },
      )
    case 'label':
      return fieldLabelled(frame, target.label!)
    case 'placeholder':
      return frame.getByPlaceholder(target.placeholder!, { exact: true })
    case 'text':
      return frame.getByText(target.text!, { exact: true })
    case 'css':
      return frame.locator(target.css!)
  }
}

/** A list inside its label lends its choices to the label's text, though not to its own name: so names count
 * as well as labels. */
function fieldLabelled(frame: Frame, label: string): Locator {
  const byName = (['combobox', 'textbox', 'checkbox', 'listbox', 'spinbutton'] as const).map((role) =>
    frame.getByRole(role, { name: label, exact: true }),
  )
  return byName.reduce((all, one) => all.or(one), frame.getByLabel(label, { exact: true }))
}

/** How many elements each way of the target finds now, over the page and its frames; the first way that finds
 * any comes first. */
export async function candidates(page: Page, target: Target): Promise<(Located & { count: number })[]> {
  const found: (Located & { count: number })[] = []
  for (const way of TARGET_WAYS.filter((name) => target[name] !== undefined)) {
    const locators = page.frames().map((frame) => locatorFor(frame, target, way))
    // a frame may go away while we look
    const counts = await Promise.all(locators.map((locator) => locator.count().catch(() => 0)))
    const count = counts.reduce((sum, n) => sum + n, 0)
    if (count > 0) found.push({ locator: locators[counts.findIndex((n) => n > 0)]!, way, count })
  }
  return found
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

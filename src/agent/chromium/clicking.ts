import type { Page } from 'playwright-core'
import type { Clicking } from '@/core/model'

/** Clicks at a point of the view. What is there was seen, not found: nothing is waited for. */
export async function clickAt(page: Page, at: { x: number; y: number }, how: Clicking): Promise<void> {
  const held = how.with ?? []
  for (const key of held) await page.keyboard.down(key)
  try {
    await page.mouse.click(at.x, at.y, {
      ...(how.times !== undefined && { clickCount: how.times }),
      ...(how.button && { button: how.button }),
      ...(how.holdMs !== undefined && { delay: how.holdMs }),
    })
  } finally {
    for (const key of held.toReversed()) await page.keyboard.up(key)
  }
}

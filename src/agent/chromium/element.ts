/** An element that was found: where it is, and why nothing could be done with it. */
import type { Locator } from 'playwright-core'
import type { Box } from '@/core/execution'
import { DriverFault } from '../driver/port'
import { reasonOf } from '../driver/reason'
import { isInDialog } from '../page/in-dialog'
import { coveringElement } from './in-page'
import type { Located } from './locate'

/** Time limit of a query about an element that exists; long enough for a machine that is busy with other
 * browsers. */
export const LOOK_MS = 2000

/** What an action ended with, in our words.
 * @param dialog words of one that is open over the page */
export async function whyNot(
  error: unknown,
  located: Located | undefined,
  dialog: string | undefined,
): Promise<unknown> {
  const inDialog =
    located &&
    (await located.locator.evaluate(isInDialog, undefined, { timeout: LOOK_MS }).catch(() => false))
  if (dialog && !inDialog) return new DriverFault('dialog', `a dialog “${dialog}” is open over the page`)
  if (error instanceof DriverFault || !located) return error
  const cover = await located.locator
    .evaluate(coveringElement, undefined, { timeout: LOOK_MS })
    .catch(() => undefined)
  return new DriverFault('target', cover ? `it is covered: the point belongs to ${cover}` : reasonOf(error))
}

export async function boxOf(locator: Locator): Promise<Box | undefined> {
  const box = await locator.boundingBox({ timeout: LOOK_MS }).catch(() => null)
  return box
    ? { x: Math.round(box.x), y: Math.round(box.y), w: Math.round(box.width), h: Math.round(box.height) }
    : undefined
}

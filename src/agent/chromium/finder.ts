/** Targets that are told by how a text is compared, or by other elements: what finds them in the other
 * browsers does here too. Plain targets go by the selectors of the library, which are faster. */
import type { Frame, Locator } from 'playwright-core'
import { TARGET_PLACES, type Target } from '@/core/model'
import { foundBy } from './asking'

export const needsFinder = (target: Target): boolean =>
  (target.match !== undefined && target.match !== 'whole') ||
  target.number !== undefined ||
  TARGET_PLACES.some((place) => target[place] !== undefined)

export const finderOf = (frame: Frame, target: Target, way: string): Locator => foundBy(frame, way, target)

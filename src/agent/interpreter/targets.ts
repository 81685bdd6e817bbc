/** What a step points at. */
import { SCREEN_WAYS, targetsOf, waysInPage, type Step, type Target } from '@/core/model'
import type { Found } from '../driver/port'

/** @param first the way that should have found it in the page */
function seenNote({ way, box, sure }: Found, first: string | undefined): string {
  const place = box ? ` at ${box.x}, ${box.y}` : ''
  const instead = first ? `; ${first} finds it no more` : ''
  return (
    `${way === 'words' ? 'read' : 'seen'} on the screen${place}, ${Math.round(sure! * 100)} in 100 ` +
    `sure${instead}`
  )
}

/** When a target gives several ways and not the first one held, the log says which did, and what to
 * change. */
export function heldNote(step: Step, found: Found): string | undefined {
  const [target] = targetsOf(step)
  if (!target) return undefined
  const [first, ...others] = waysInPage(target).filter((way) => way !== 'spot')
  if (found.sure !== undefined) return seenNote(found, first)
  const hasOthers = others.length > 0 || SCREEN_WAYS.some((way) => target[way] !== undefined)
  return first !== undefined && hasOthers && found.way !== first
    ? `found by ${found.way}; ${first} finds it no more: mend “${first}: ${target[first]}” or take it out`
    : undefined
}

/** Fields whose name says that they are secret; the driver masks what the page itself hides. */
export const isSecretTarget = ({ label = '', name = '', testId = '' }: Target) =>
  /password|security code|secret|pin\b/i.test(`${label} ${name} ${testId}`)

/** What a step points at. */
import { SCREEN_WAYS, TARGET_WAYS, targetsOf, type Step, type Target } from '@/core/model'
import type { Found } from '../driver/port'
import { StepFault } from './fault'

/** A target that can only be found by looking at the screen. @throws {StepFault} script */
export function requireReachable(step: Step): void {
  for (const target of targetsOf(step)) {
    const way = SCREEN_WAYS.find((name) => target[name] !== undefined)
    if (way && !TARGET_WAYS.some((name) => target[name] !== undefined))
      throw new StepFault({
        kind: 'script',
        message: `“${way}: ${target[way]}” is looked for on the screen, which this version does not do yet; give the target another way too`,
      })
  }
}

/** When a target gives several ways and not the first one held, the log says which did, and what to
 * change. */
export function heldNote(step: Step, found: Found): string | undefined {
  const [target] = targetsOf(step)
  const ways = target ? TARGET_WAYS.filter((way) => target[way] !== undefined) : []
  const first = ways[0]
  return first !== undefined && ways.length > 1 && found.way !== first
    ? `found by ${found.way}; ${first} finds it no more: mend “${first}: ${target![first]}” or take it out`
    : undefined
}

/** Fields whose name says that they are secret; the driver masks what the page itself hides. */
export const isSecretTarget = ({ label = '', name = '', testId = '' }: Target) =>
  /password|security code|secret|pin\b/i.test(`${label} ${name} ${testId}`)

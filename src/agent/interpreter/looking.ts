/** Looks at the page until it is as it should be. */
import { describeTarget, type Target } from '@/core/model'
import { tooBusy } from '../driver/bounded'
import { inTime, LATE } from '../driver/in-time'
import type { Look } from '../driver/port'
import { needsEyes } from '../driver/seeing'
import { Stopped } from './fault'
import type { StepParts } from './parts'

const POLL_MS = 80
/** A look that was begun in time may end a little later. */
const LOOK_GRACE_MS = 1500

/** A screen is read in a second or two, and on a machine that is busy in more. */
const READ_GRACE_MS = 12_000
/** How much later a look at these may end. */
export const graceOf = (...targets: (Target | undefined)[]): number =>
  targets.some(needsEyes) ? READ_GRACE_MS : LOOK_GRACE_MS

/** Looks again and again until it is right or the time is up: the last look begins when it is, since one that
 * took long says nothing of what came meanwhile. @throws {Stopped} */
export async function poll<T>(
  { pace, signal, driver }: StepParts,
  limitMs: number,
  look: () => Promise<T>,
  right: (seen: T) => boolean,
  graceMs = LOOK_GRACE_MS,
): Promise<{ last: T; holds: boolean }> {
  const until = pace.now() + limitMs
  for (;;) {
    const begun = pace.now()
    const limit = Math.max(0, until - begun) + graceMs
    const last = await inTime(look(), limit)
    if (last === LATE) {
      driver.giveUp?.()
      throw tooBusy(limit)
    }
    if (right(last)) return { last, holds: true }
    if (signal.aborted) throw new Stopped()
    if (begun >= until) return { last, holds: false }
    await pace.pause(POLL_MS)
  }
}

/** Why a target is not what one can look at. */
export const absence = (target: Target, { count }: Look): string =>
  count === 0
    ? `${describeTarget(target)} is not on the page`
    : `${describeTarget(target)}: ${count} elements match, one was expected`

/** How far a recurrence rule is followed. */

/** More occurrences than this in the span that is looked at: the rule is a mistake. */
export const GIVEN_MOST = 100_000
/** More times than this to be looked at: these take a second or two; without a bound a mistake could keep a
 * thread for hours. */
export const LOOKED_AT_MOST = 1_000_000
/** A rule gives more than can be meant, or takes too long to be followed; the message says which. */
export class TooMany extends Error {}

export const tooManyGiven = () =>
  new TooMany(`it gives more than ${GIVEN_MOST} times between from and to; ask for less`)
export const tooManyLookedAt = () =>
  new TooMany(
    `more than ${LOOKED_AT_MOST} times would have to be looked at to find its own; ` +
      'ask for less between from and to, or say it with a longer FREQ',
  )

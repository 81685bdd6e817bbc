/** Whether a defect is mended: how often its case has to pass for that, and what the runs of it say. */

/** How often it failed on the build it was found in, of how many times it was tried there. */
export type FailedBefore = { failed: number; of: number }

export const CONFIDENCE = 0.95
const TIMES_MOST = 50
/** One run that passes may have been upset by nothing at all. */
const TIMES_LEAST = 2

/** So many runs without a failure would be seen by chance with at most 1 - `confidence`, if it still failed
 * as often as before. How often that is, is estimated by the rule of succession (Laplace 1814), as nobody
 * knows it after a few tries.
 * @returns between 2 and 50, and how sure that makes, from 0 to 1 */
export function timesToConfirm(
  { failed, of }: FailedBefore,
  confidence: number = CONFIDENCE,
): { times: number; confidence: number } {
  const rate = (Math.max(0, failed) + 1) / (Math.max(failed, of, 0) + 2)
  const wanted = Math.ceil(Math.log(1 - confidence) / Math.log(1 - rate) - 1e-9)
  const times = Math.min(TIMES_MOST, Math.max(TIMES_LEAST, wanted))
  return { times, confidence: 1 - (1 - rate) ** times }
}

/** Of the runs that were to confirm it. `other`: errors, and what was skipped or cancelled: they say nothing
 * of the defect. */
export type ConfirmCounts = { passed: number; failed: number; other: number; open: number }
export type ConfirmVerdict = 'close' | 'reopen' | 'going-on' | 'unclear'

export type Confirmed = {
  build: string
  counts: ConfirmCounts
  verdict: ConfirmVerdict
  /** Where its run is read. */
  address: string
}

/** What a confirmation says of a defect to whoever has to mend it, and what it should become. */
export function confirmationWords({ build, counts, verdict, address }: Confirmed): {
  text: string
  state: 'open' | 'closed' | null
} {
  const { passed, failed, other } = counts
  const of = passed + failed + other
  const times = (count: number) => (count === 1 ? 'once' : `${count} times`)
  switch (verdict) {
    case 'close':
      return {
        text:
          `Mended on build ${build}: it was tried ${times(of)} where it had failed, and passed each ` +
          `time. ${address}`,
        state: 'closed',
      }
    case 'reopen':
      return {
        text:
          `Still there on build ${build}: it was tried ${times(of)} where it had failed, and failed ` +
          `${times(failed)}. ${address}`,
        state: 'open',
      }
    default:
      return {
        text:
          `Tried on build ${build} ${times(of)}: ${passed} passed, ${failed} failed, ${other} said ` +
          `nothing. ${address}`,
        state: null,
      }
  }
}

/** One failure is enough to say that it is still there; what passes has to pass each time. */
export function confirmedBy({ passed, failed, other, open }: ConfirmCounts): ConfirmVerdict {
  if (failed > 0) return 'reopen'
  if (open > 0) return 'going-on'
  return passed > 0 && other === 0 ? 'close' : 'unclear'
}

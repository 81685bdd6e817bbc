/** What to do about planned starts whose time has come. */
import type { Occurrence } from '../calendar'
import type { RotationTimes } from '../model'

export type Decision = { at: string; do: 'start' | 'skip'; why?: string }

/** Starts that are later than this were missed: nobody was there at their time. */
export const LATE_MS = 120_000

/** @param due in the order of their times
 * @param running whether the rotation's last run still goes on
 * @param beside title of a rotation beside which it does not start, and which runs now */
export function decideDue(
  due: readonly Occurrence[],
  { missed, whileRunning }: Pick<RotationTimes, 'missed' | 'whileRunning'>,
  { nowMs, running, beside }: { nowMs: number; running: boolean; beside?: string },
): Decision[] {
  const isLate = ({ at }: Occurrence) => nowMs - Date.parse(at) > LATE_MS
  let busy = running
  return due.map((one, i): Decision => {
    const { at } = one
    const next = due[i + 1]
    if (isLate(one) && missed === 'skip')
      return { at, do: 'skip', why: 'nobody was there to start it at its time' }
    // Of several that were missed, or come together, one stands for all.
    if (isLate(one) && next) return { at, do: 'skip', why: 'it was missed, and a later one stands for it' }
    if (beside !== undefined)
      return { at, do: 'skip', why: `${beside} runs, and it is not to start beside it` }
    if (busy && whileRunning === 'skip') return { at, do: 'skip', why: 'the run before it still goes on' }
    busy = true
    return { at, do: 'start', ...(isLate(one) && { why: 'late: nobody was there at its time' }) }
  })
}

/** When a rotation is planned to start: what recurs, without blackouts, with the single starts that were
 * moved. */
import { instantOf, occurrences, type Occurrence } from '../calendar'
import type { RotationTimes } from '../model'

/** Times in which nothing runs, kept once for several rotations. Local moments are read in the rotation's
 * zone. */
export type BlackoutCalendar = {
  key: string
  title: string
  blackout: { rule?: string; start: string; end: string }[]
}
/** `movedFrom`: the instant it was planned for before somebody moved it. */
export type PlannedStart = Occurrence & { movedFrom?: string }

/** Starts with `from <= at < to`, in order. A move of a start that is not planned any more does nothing; one
 * that was moved into a blackout stays there: a person put it there.
 * @throws {BadInput} when the times are none */
export function startsOf(
  when: RotationTimes,
  calendars: readonly BlackoutCalendar[],
  from: string,
  to: string,
): PlannedStart[] {
  const { missed: _, whileRunning: __, notWith: ___, calendars: named, moves, ...times } = when
  const blackout = [
    ...times.blackout,
    ...calendars.filter(({ key }) => named.includes(key)).flatMap((calendar) => calendar.blackout),
  ]
  const planned = occurrences({
    ...times,
    blackout,
    except: [...times.except, ...moves.map((move) => move.from)],
    from,
    to,
  })
  const moved = moves.flatMap((move): PlannedStart[] => {
    const movedFrom = instantOf(move.from, when.timezone)
    if (
      movedFrom === undefined ||
      occurrences({ ...times, blackout, from: movedFrom, to: later(movedFrom) }).length === 0
    )
      return []
    return occurrences({ rule: null, timezone: when.timezone, start: move.to, from, to }).map((one) => ({
      ...one,
      movedFrom,
      note: `moved from ${move.from.replace('T', ' ')}`,
    }))
  })
  // One that a blackout delayed is excepted by the time it was delayed to.
  const gone = new Set(moves.map((move) => instantOf(move.from, when.timezone)))
  const all = new Map([...planned.filter(({ at }) => !gone.has(at)), ...moved].map((one) => [one.at, one]))
  return [...all.values()].sort((a, b) => (a.at < b.at ? -1 : 1))
}

const later = (instant: string) => new Date(Date.parse(instant) + 1).toISOString()

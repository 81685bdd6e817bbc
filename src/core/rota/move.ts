/** Putting a planned start to another time: this one alone, or all of its kind. */
import { localOf } from '../calendar'
import type { RotationTimes } from '../model'

export type Moved = Pick<RotationTimes, 'rule' | 'start' | 'moves'>
const DAY_MS = 86_400_000
const WEEKDAYS = ['MO', 'TU', 'WE', 'TH', 'FR', 'SA', 'SU']
const wallOf = (local: string) => Date.parse(`${local}Z`)
const written = (wall: number) =>
  new Date(wall)
    .toISOString()
    .replace(/:00(\.000)?Z$/, '')
    .replace(/(\.000)?Z$/, '')
const local = (instant: string, timezone: string) => written(wallOf(localOf(instant, timezone)!))

/** This start alone: it is noted as a move; moved back to where it was planned, the note goes. @param at
 * where it is now, an instant */
export function moveOne(times: RotationTimes, at: string, to: string): Moved {
  const { timezone, moves, rule, start } = times
  const [from, target] = [local(at, timezone), local(to, timezone)]
  const before = moves.find((move) => written(wallOf(withTime(move.to))) === from)
  const planned = before ? before.from : from
  const others = moves.filter((move) => move !== before)
  return {
    rule,
    start,
    moves:
      written(wallOf(withTime(planned))) === target ? others : [...others, { from: planned, to: target }],
  }
}

/** All of them: by as much as this one moved on the wall. @returns a sentence where the rule does not say
 * how */
export function moveSeries(times: RotationTimes, at: string, to: string): Moved | { why: string } {
  const { timezone, rule, start, moves } = times
  if (rule !== null && /BY(HOUR|MINUTE|SECOND)=/.test(rule))
    return { why: 'its rule names hours or minutes: change them in the rotation' }
  const by = wallOf(localOf(to, timezone)!) - wallOf(localOf(at, timezone)!)
  const days = Math.round(
    (Math.floor(wallOf(localOf(to, timezone)!) / DAY_MS) * DAY_MS -
      Math.floor(wallOf(localOf(at, timezone)!) / DAY_MS) * DAY_MS) /
      DAY_MS,
  )
  if (days !== 0 && rule !== null && /BY(MONTHDAY|YEARDAY|WEEKNO|MONTH|SETPOS)=/.test(rule))
    return { why: 'its rule names days of the month or year: change them in the rotation' }
  const shifted =
    rule?.replace(
      /BYDAY=([^;]+)/,
      (_, list: string) =>
        `BYDAY=${list
          .split(',')
          .map((day) => nextDay(day, days))
          .join(',')}`,
    ) ?? null
  // Another zone in `start` stays what it is: only its wall moves.
  return {
    rule: shifted,
    start: written(wallOf(withTime(start.replace(/(Z|[+-]\d{2}:?\d{2})$/, ''))) + by),
    moves,
  }
}

function nextDay(day: string, by: number): string {
  const name = day.slice(-2)
  return day.slice(0, -2) + WEEKDAYS[(((WEEKDAYS.indexOf(name) + by) % 7) + 7) % 7]!
}
const withTime = (moment: string) => (moment.includes('T') ? moment : `${moment}T00:00`)

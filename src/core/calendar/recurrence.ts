/** What a recurrence rule (RFC 5545) gives, as wall times or instants, in order. */
import { Frequency, RRule, type ByWeekday, type Options } from 'rrule'
import type { Zone } from './local-time'
import { GIVEN_MOST, LOOKED_AT_MOST, tooManyGiven, tooManyLookedAt } from './too-many'
import { wallTimes } from './wall-times'

export type Recurrence = {
  /** Hourly and shorter rules count elapsed time; the others count days of the wall. */
  elapsed: boolean
  options: Partial<Options>
  /** UNTIL, inclusive, as it is written: the caller, who knows the zone, reads it. */
  until?: string
}
/** One that a rule gives. `skipped`: the wall never shows `wall`, the clock change goes over it. */
export type Given = { at: number; wall: number; skipped: boolean }

const SECOND_MS = 1000
const STEP_MS: Partial<Record<Frequency, number>> = {
  [Frequency.HOURLY]: 3600 * SECOND_MS,
  [Frequency.MINUTELY]: 60 * SECOND_MS,
  [Frequency.SECONDLY]: SECOND_MS,
}
const PARTS =
  /^(FREQ|UNTIL|COUNT|INTERVAL|BYSECOND|BYMINUTE|BYHOUR|BYDAY|BYMONTHDAY|BYYEARDAY|BYWEEKNO|BYMONTH|BYSETPOS|WKST)$/

/** @returns the rule, or what is wrong with it */
export function readRule(text: string): Recurrence | { message: string } {
  const parts = text
    .replace(/^RRULE:/i, '')
    .split(';')
    .map((part) => part.split('='))
  const strange = parts.find(([name = '', value]) => !PARTS.test(name.toUpperCase()) || !value)
  if (strange) return { message: `“${strange.join('=')}” is no part of a recurrence rule (RFC 5545)` }
  const named = Object.fromEntries(parts.map(([name, value]) => [name!.toUpperCase(), value!.toUpperCase()]))
  if (!named.FREQ) return { message: 'it does not say how often: FREQ=DAILY, WEEKLY, …' }
  if (named.COUNT && named.UNTIL) return { message: 'COUNT and UNTIL exclude each other' }
  if ([named.COUNT, named.INTERVAL].some((value) => value !== undefined && !/^[1-9]\d{0,5}$/.test(value)))
    return { message: 'COUNT and INTERVAL are whole numbers from 1' }
  try {
    const { UNTIL: until, ...others } = named
    const written = until && /^(\d{4})(\d{2})(\d{2})(?:T(\d{2})(\d{2})(\d{2})(Z?))?$/.exec(until)
    if (until && !written)
      return { message: `UNTIL is written 20261224T180000 or 20261224T180000Z, not “${until}”` }
    const options = RRule.parseString(
      Object.entries(others)
        .map((part) => part.join('='))
        .join(';'),
    )
    if (options.freq === undefined || Number.isNaN(options.freq))
      return { message: `“${named.FREQ}” is no frequency` }
    const [, year, month, day, hour, minute, second, zulu] = written || []
    return {
      elapsed: STEP_MS[options.freq] !== undefined,
      options,
      ...(written && {
        until: `${year}-${month}-${day}${hour ? `T${hour}:${minute}:${second}${zulu}` : ''}`,
      }),
    }
  } catch (error) {
    return { message: (error as Error).message }
  }
}

type Span = { start: { at: number; wall: number }; zone: Zone; fromAt: number; toAt: number }

/** What a rule gives with `fromAt <= at < toAt`, in order; `null` gives its start alone. UNTIL is for the
 * caller, who knows how it is meant.
 * @throws {TooMany} */
export function expand(rule: Recurrence | null, span: Span): Given[] {
  const { start, zone, fromAt, toAt } = span
  if (rule === null)
    return start.at >= fromAt && start.at < toAt
      ? [{ at: start.at, wall: start.wall, skipped: zone.wallOf(start.at) !== start.wall }]
      : []
  return (rule.elapsed ? expandElapsed(rule, span) : expandWall(rule, span)).filter(
    ({ at }) => at >= fromAt && at < toAt,
  )
}

const DAY_MS = 24 * 3600 * SECOND_MS

function expandWall({ options }: Recurrence, { start, zone, fromAt, toAt }: Span): Given[] {
  // A day more at both ends: a wall time and its instant are never further apart.
  const [from, to] = [Math.max(start.wall, fromAt - DAY_MS), toAt + DAY_MS]
  return wallTimes(options, start.wall, from, to).map((wall) => ({ wall, ...zone.instantOf(wall) }))
}

/** As if the wall showed UTC from the start on: then an hour is an hour. What a rule says of days and hours
 * is still said of the wall, so it is looked up there. */
function expandElapsed({ options }: Recurrence, { start, zone, fromAt, toAt }: Span): Given[] {
  const stepMs = STEP_MS[options.freq!]! * (options.interval ?? 1)
  const limits = limitsOf(options)
  const found: Given[] = []
  // Without COUNT nothing before `from` matters, and may be stepped over.
  let at =
    options.count || fromAt <= start.at
      ? start.at
      : start.at + Math.floor((fromAt - start.at) / stepMs) * stepMs
  let lookedAt = 0
  for (let count = 0; at < toAt && count < (options.count ?? Infinity); at += stepMs) {
    if (++lookedAt > LOOKED_AT_MOST) throw tooManyLookedAt()
    const inside = expandWithin(at, options, zone).filter((one) => limits(new Date(zone.wallOf(one))))
    for (const one of inside) {
      if (one < start.at || ++count > (options.count ?? Infinity)) continue
      if (one >= fromAt && one < toAt) found.push({ at: one, wall: zone.wallOf(one), skipped: false })
      if (found.length > GIVEN_MOST) throw tooManyGiven()
    }
  }
  return found
}

const list = (value: number | number[] | null | undefined): number[] | undefined =>
  value === null || value === undefined ? undefined : [value].flat()

/** An hourly rule with minutes, a minutely one with seconds: several within one step. */
function expandWithin(at: number, { freq, byminute, bysecond }: Partial<Options>, zone: Zone): number[] {
  const [minutes, seconds] = [
    freq === Frequency.HOURLY ? list(byminute) : undefined,
    freq !== Frequency.SECONDLY ? list(bysecond) : undefined,
  ]
  if (!minutes && !seconds) return [at]
  const wall = new Date(zone.wallOf(at))
  const [minute, second] = [wall.getUTCMinutes(), wall.getUTCSeconds()]
  return (minutes ?? [minute])
    .flatMap((m) => (seconds ?? [second]).map((s) => at + ((m - minute) * 60 + (s - second)) * SECOND_MS))
    .sort((a, b) => a - b)
}

const WEEKDAYS = ['MO', 'TU', 'WE', 'TH', 'FR', 'SA', 'SU']

/** 0 is Monday. */
function numberOfWeekday(day: ByWeekday): number {
  if (typeof day === 'number') return day
  return typeof day === 'string' ? WEEKDAYS.indexOf(day) : day.weekday
}

/** The parts of a rule that leave out rather than add: of the wall's month, day, hour, minute. */
function limitsOf(options: Partial<Options>): (wall: Date) => boolean {
  const [months, monthDays, hours, minutes, seconds] = [
    list(options.bymonth),
    list(options.bymonthday),
    list(options.byhour),
    options.freq === Frequency.HOURLY ? undefined : list(options.byminute),
    options.freq === Frequency.SECONDLY ? list(options.bysecond) : undefined,
  ]
  const weekdays =
    options.byweekday === undefined || options.byweekday === null
      ? undefined
      : [options.byweekday].flat().map(numberOfWeekday)
  return (wall) => {
    const lastDay = new Date(Date.UTC(wall.getUTCFullYear(), wall.getUTCMonth() + 1, 0)).getUTCDate()
    return (
      (!months || months.includes(wall.getUTCMonth() + 1)) &&
      (!monthDays || monthDays.some((day) => (day > 0 ? day : lastDay + 1 + day) === wall.getUTCDate())) &&
      (!weekdays || weekdays.includes((wall.getUTCDay() + 6) % 7)) &&
      (!hours || hours.includes(wall.getUTCHours())) &&
      (!minutes || minutes.includes(wall.getUTCMinutes())) &&
      (!seconds || seconds.includes(wall.getUTCSeconds()))
    )
  }
}

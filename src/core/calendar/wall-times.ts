/** The wall times of a recurrence rule, by the library, which by itself looks at all from the start of the
 * rule on, and for ever where nothing fits. */
import { Frequency, RRule, type Options } from 'rrule'
import { GIVEN_MOST, LOOKED_AT_MOST, tooManyGiven, tooManyLookedAt } from './too-many'

const DAY_MS = 24 * 3600 * 1000
/** The library looks at all days of a period at once: of the one that the rule starts in, and of the one in
 * which what is asked for ends. The longest is a year. */
const AROUND_DAYS = 2 * 366

/** All days until the end of what is asked for were looked at. */
class AtTheEnd extends Error {}

/** Those with `from <= wall <= to`, in order, of a rule that counts days of the wall.
 * @param start of the rule; like all times here in ms, as if the wall showed UTC
 * @throws {TooMany} */
export function wallTimes(options: Partial<Options>, start: number, from: number, to: number): number[] {
  const rule = new RRule(
    options.count ? { ...options, dtstart: new Date(start) } : startedLater(options, start, from),
    true,
  )
  const { byhour, byminute, bysecond, dtstart } = rule.options
  const timesADay = [byhour, byminute, bysecond].reduce((times, list) => times * Math.max(1, list.length), 1)
  const daysToEnd = Math.ceil((to - dtstart.getTime()) / DAY_MS) + AROUND_DAYS
  let days = 0
  const countDay = () => {
    days++
    if (days * timesADay > LOOKED_AT_MOST) throw tooManyLookedAt()
    if (days > daysToEnd) throw new AtTheEnd()
  }
  rule.options = new Proxy(rule.options, {
    get(options, name) {
      // the library asks for it once for each day that it looks at, one after the other, and for nothing else
      if (name === 'byyearday') countDay()
      return options[name as keyof typeof options]
    },
  })
  const found: number[] = []
  try {
    rule.between(new Date(from), new Date(to), true, (date) => {
      found.push(date.getTime())
      if (found.length > GIVEN_MOST) throw tooManyGiven()
      return true
    })
  } catch (error) {
    if (!(error instanceof AtTheEnd)) throw error
  }
  return found
}

/** The same rule from a later period on that still lies before `from`: what it gives from there on is the
 * same. What it takes from its start (the day, where it names none) is said. */
function startedLater(options: Partial<Options>, start: number, from: number): Partial<Options> {
  const { bymonth, bymonthday, byweekday, byweekno, byyearday, byeaster } = options
  const date = new Date(start)
  const [year, month] = [date.getUTCFullYear(), date.getUTCMonth()]
  const namesDays = [bymonthday, byweekday, byweekno, byyearday, byeaster].some(
    (part) => part !== undefined && part !== null,
  )
  const timeOfDay = start - Date.UTC(year, month, date.getUTCDate())
  const interval = options.interval ?? 1
  /** @param passed whole periods between the start and `from`, but for one: of the first the library may look
   * at a part only */
  const laterBy = (passed: number) => Math.max(0, Math.floor(passed / interval)) * interval
  const before = new Date(from)
  switch (options.freq) {
    case Frequency.DAILY:
      return { ...options, dtstart: new Date(start + laterBy((from - start) / DAY_MS - 1) * DAY_MS) }
    case Frequency.WEEKLY:
      return {
        ...options,
        dtstart: new Date(start + laterBy((from - start) / (7 * DAY_MS) - 1) * 7 * DAY_MS),
      }
    case Frequency.MONTHLY: {
      const months = (before.getUTCFullYear() - year) * 12 + before.getUTCMonth() - month
      const later = laterBy(months - 1)
      if (later === 0) return { ...options, dtstart: date }
      return {
        ...options,
        ...(!namesDays && { bymonthday: date.getUTCDate() }),
        dtstart: new Date(Date.UTC(year, month + later, 1) + timeOfDay),
      }
    }
    default: {
      const later = laterBy(before.getUTCFullYear() - year - 1)
      if (later === 0) return { ...options, dtstart: date }
      return {
        ...options,
        ...(!namesDays && { bymonth: bymonth ?? month + 1, bymonthday: date.getUTCDate() }),
        dtstart: new Date(Date.UTC(year + later, 0, 1) + timeOfDay),
      }
    }
  }
}

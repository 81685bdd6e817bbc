/** Times of a rotation as a person says them. */
import type { RotationTimes } from '../model'

const DAYS: Record<string, string> = {
  MO: 'Monday',
  TU: 'Tuesday',
  WE: 'Wednesday',
  TH: 'Thursday',
  FR: 'Friday',
  SA: 'Saturday',
  SU: 'Sunday',
}
const WORKDAYS = 'MO,TU,WE,TH,FR'
const joined = (words: readonly string[]) =>
  words.length < 2 ? words.join('') : `${words.slice(0, -1).join(', ')} and ${words.at(-1)}`
const every = (n: string | undefined, unit: string, one: string) =>
  n === undefined || n === '1' ? one : `every ${n} ${unit}s`

const weeksOf = (n: string | undefined, days: string) => {
  if (n === undefined || n === '1') return days || 'weekly'
  return `every ${n} weeks${days ? `, ${days}` : ''}`
}

/** "Monday and Thursday at 22:00", "every 2 hours from 06:00"; a rule that has no such words is shown as it
 * is. */
export function whenWords({ rule, start, until }: Pick<RotationTimes, 'rule' | 'start' | 'until'>): string {
  const time = start.slice(11, 16) || '00:00'
  const end = until ? `, until ${until.slice(0, 10)}` : ''
  if (rule === null) return `once, on ${start.slice(0, 10)} at ${time}`
  const parts = Object.fromEntries(
    rule
      .replace(/^RRULE:/i, '')
      .split(';')
      .map((part) => part.toUpperCase().split('=') as [string, string]),
  )
  const { FREQ, INTERVAL, BYDAY, BYMONTHDAY, BYHOUR, ...others } = parts
  if (
    Object.keys(others).some((name) => name !== 'WKST') ||
    (BYDAY && !BYDAY.split(',').every((day) => DAYS[day]) && !(FREQ === 'MONTHLY' && nthDay(BYDAY)))
  )
    return `${rule} from ${start.replace('T', ' ')}${end}`
  const hours = BYHOUR
    ? `, at ${joined(BYHOUR.split(',').map((hour) => `${hour.padStart(2, '0')}:${time.slice(3)}`))}`
    : ` at ${time}`
  const named = BYDAY ? joined(BYDAY.split(',').map((day) => DAYS[day]!)) : ''
  const days = BYDAY === WORKDAYS ? 'on workdays' : named
  switch (FREQ) {
    case 'HOURLY':
      return (
        `${every(INTERVAL, 'hour', 'each hour')} ` +
        `${BYHOUR ? `between ${spanOf(BYHOUR, time)}` : `from ${time}`}${days ? `, ${days}` : ''}${end}`
      )
    case 'DAILY':
      return `${days || every(INTERVAL, 'day', 'daily')}${hours}${end}`
    case 'WEEKLY':
      return `${weeksOf(INTERVAL, days)}${hours}${end}`
    case 'MONTHLY': {
      const weekdays = nthDay(BYDAY) ?? days
      const onDays = weekdays ? ` on ${weekdays}` : ''
      const which = BYMONTHDAY ? ` on day ${joined(BYMONTHDAY.split(','))}` : onDays
      return `${every(INTERVAL, 'month', 'monthly')}${which}${hours}${end}`
    }
    default:
      return `${rule} from ${start.replace('T', ' ')}${end}`
  }
}

const NTH: Record<string, string> = {
  '1': 'first',
  '2': 'second',
  '3': 'third',
  '4': 'fourth',
  '-1': 'last',
}
/** "the first Monday", of BYDAY=1MO. */
function nthDay(byDay: string | undefined): string | undefined {
  const [, nth = '', day = ''] = /^(-1|[1-4])([A-Z]{2})$/.exec(byDay ?? '') ?? []
  return NTH[nth] && DAYS[day] ? `the ${NTH[nth]} ${DAYS[day]}` : undefined
}

const spanOf = (hours: string, time: string) => {
  const list = hours
    .split(',')
    .map(Number)
    .sort((a, b) => a - b)
  return (
    `${String(list[0]).padStart(2, '0')}:${time.slice(3)} and ` +
    `${String(list.at(-1)).padStart(2, '0')}:${time.slice(3)}`
  )
}

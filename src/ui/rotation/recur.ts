/** A recurrence rule as the fields of the bench have it. Whatever they cannot say is a rule of one's own.
 * `hours`: several times a day, each at the minute of the first start; none: at its hour alone. `nth`: of the
 * month's weekdays of that name, -1 the last. */

export const DAY_NAMES = [
  ['MO', 'Mon'],
  ['TU', 'Tue'],
  ['WE', 'Wed'],
  ['TH', 'Thu'],
  ['FR', 'Fri'],
  ['SA', 'Sat'],
  ['SU', 'Sun'],
] as const
export type Recur =
  | { kind: 'once' }
  | { kind: 'hourly'; every: number; from?: number; to?: number; days: string[] }
  | { kind: 'daily'; every: number; hours: number[] }
  | { kind: 'weekly'; every: number; days: string[]; hours: number[] }
  | { kind: 'monthly'; every: number; day: number }
  | { kind: 'monthly'; every: number; nth: number; weekday: string }
  | { kind: 'own'; rule: string }
export type RecurKind = Recur['kind']

export function readRecur(rule: string | null): Recur {
  if (rule === null) return { kind: 'once' }
  const parts = Object.fromEntries(
    rule
      .replace(/^RRULE:/i, '')
      .split(';')
      .map((part) => part.toUpperCase().split('=') as [string, string]),
  )
  const { FREQ, INTERVAL = '1', BYDAY, BYMONTHDAY, BYHOUR, ...others } = parts
  const every = Number(INTERVAL)
  const days = BYDAY?.split(',') ?? []
  const own: Recur = { kind: 'own', rule }
  if (Object.keys(others).length > 0 || !Number.isInteger(every)) return own
  const [, nth, weekday] = /^(-1|[1-4])([A-Z]{2})$/.exec(BYDAY ?? '') ?? []
  if (FREQ === 'MONTHLY' && isDay(weekday) && !BYMONTHDAY && !BYHOUR)
    return { kind: 'monthly', every, nth: Number(nth), weekday }
  if (!days.every(isDay)) return own
  if (FREQ === 'HOURLY' && !BYMONTHDAY) {
    if (!BYHOUR) return { kind: 'hourly', every, days }
    const hours = BYHOUR.split(',').map(Number)
    return hours.every((hour, i) => i === 0 || hour === hours[i - 1]! + 1)
      ? { kind: 'hourly', every, from: hours[0]!, to: hours.at(-1)!, days }
      : own
  }
  const hours = BYHOUR?.split(',').map(Number) ?? []
  if (!hours.every((hour, i) => i === 0 || hour > hours[i - 1]!)) return own
  if (FREQ === 'DAILY' && !BYDAY && !BYMONTHDAY) return { kind: 'daily', every, hours }
  if (FREQ === 'WEEKLY' && !BYMONTHDAY) return { kind: 'weekly', every, days, hours }
  if (BYHOUR) return own
  if (FREQ === 'MONTHLY' && BYMONTHDAY && /^\d+$/.test(BYMONTHDAY) && !BYDAY)
    return { kind: 'monthly', every, day: Number(BYMONTHDAY) }
  return own
}

const isDay = (name: string | undefined): name is string => DAY_NAMES.some(([day]) => day === name)

export function writeRecur(recur: Recur): string | null {
  const join = (...parts: (string | false | undefined)[]) => parts.filter(Boolean).join(';')
  const interval = (every: number) => every > 1 && `INTERVAL=${every}`
  const atHours = (hours: readonly number[]) => hours.length > 0 && `BYHOUR=${hours.join(',')}`
  switch (recur.kind) {
    case 'once':
      return null
    case 'hourly': {
      const hours =
        recur.from === undefined || recur.to === undefined
          ? []
          : Array.from({ length: Math.max(1, recur.to - recur.from + 1) }, (_, i) => recur.from! + i)
      return join(
        'FREQ=HOURLY',
        interval(recur.every),
        atHours(hours),
        recur.days.length > 0 && `BYDAY=${recur.days.join(',')}`,
      )
    }
    case 'daily':
      return join('FREQ=DAILY', interval(recur.every), atHours(recur.hours))
    case 'weekly':
      return join(
        'FREQ=WEEKLY',
        interval(recur.every),
        recur.days.length > 0 && `BYDAY=${recur.days.join(',')}`,
        atHours(recur.hours),
      )
    case 'monthly':
      return join(
        'FREQ=MONTHLY',
        interval(recur.every),
        'day' in recur ? `BYMONTHDAY=${recur.day}` : `BYDAY=${recur.nth}${recur.weekday}`,
      )
    case 'own':
      return recur.rule
  }
}

/** What a kind begins with, when one turns to it. @param start the first moment, "2026-11-23T22:00" */
export function beginning(kind: RecurKind, start: string, before: string | null): Recur {
  const day = new Date(`${start.slice(0, 10)}T12:00:00Z`)
  switch (kind) {
    case 'hourly':
      return { kind, every: 1, days: [] }
    case 'daily':
      return { kind, every: 1, hours: [] }
    case 'weekly':
      return { kind, every: 1, days: [DAY_NAMES[(day.getUTCDay() + 6) % 7]![0]], hours: [] }
    case 'monthly':
      return { kind, every: 1, day: day.getUTCDate() }
    case 'own':
      return { kind, rule: before ?? 'FREQ=DAILY' }
    default:
      return { kind: 'once' }
  }
}

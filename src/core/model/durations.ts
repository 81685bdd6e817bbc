const UNIT_MS = { ms: 1, s: 1000, m: 60_000, min: 60_000, h: 3_600_000 } as const

/** Written durations: one or several numbers, each with its unit, blanks between them as one likes. */
export const DURATION_PATTERN = '^\\d+(\\.\\d+)? ?(ms|s|min|m|h)( ?\\d+(\\.\\d+)? ?(ms|s|min|m|h)){0,3}$'
const WHOLE = new RegExp(DURATION_PATTERN)
const PART = /(\d+(?:\.\d+)?) ?(ms|s|min|m|h)/g

/** Milliseconds of a written duration ("500ms", "90 s", "2m", "1h30m", "1 h 30 min"; a bare number is ms), or
 * `undefined` if it is none. */
export function parseDurationMs(written: string | number): number | undefined {
  if (typeof written === 'number')
    return Number.isFinite(written) && written >= 0 ? Math.round(written) : undefined
  const text = written.trim()
  if (!WHOLE.test(text)) return undefined
  let ms = 0
  for (const [, amount, unit] of text.matchAll(PART))
    ms += Number(amount) * UNIT_MS[unit as keyof typeof UNIT_MS]
  return Math.round(ms)
}

/** A duration as a person would write it in a file: "90s", "2m", "1h", "1h30m", "1500ms". */
export function durationText(ms: number): string {
  if (ms % UNIT_MS.s !== 0) return `${ms}ms`
  const [hours, minutes] = [Math.floor(ms / UNIT_MS.h), (ms % UNIT_MS.h) / UNIT_MS.m]
  if (ms > 0 && Number.isInteger(minutes))
    return `${hours > 0 ? `${hours}h` : ''}${minutes > 0 ? `${minutes}m` : ''}`
  return `${ms / UNIT_MS.s}s`
}

/** A duration as a person reads it: "0.3 s", "12 s", "2 min 5 s", "1 h 20 min". */
export function describeDuration(ms: number): string {
  if (ms < 9_950) return `${(ms / 1000).toFixed(1)} s`
  const seconds = Math.round(ms / 1000)
  if (seconds < 60) return `${seconds} s`
  const minutes = Math.floor(seconds / 60)
  if (minutes < 10) return seconds % 60 ? `${minutes} min ${seconds % 60} s` : `${minutes} min`
  const whole = Math.round(seconds / 60)
  if (whole < 60) return `${whole} min`
  return whole % 60 ? `${Math.floor(whole / 60)} h ${whole % 60} min` : `${whole / 60} h`
}

const DAY_MS = 24 * UNIT_MS.h
/** Days of a mean month and of a mean year. */
const [MONTH_DAYS, YEAR_DAYS] = [30.44, 365.25]

const wholeAgo = (count: number, unit: string) =>
  `${Math.floor(count)} ${unit}${Math.floor(count) === 1 ? '' : 's'} ago`

/** How long ago something was, as it is said everywhere: "just now", "12 min ago", "4 h 43 min ago", "3 days
 * ago". Whole units that have passed; what is to come (clocks differ) is "just now". */
export function describeAgo(ms: number): string {
  const minutes = Math.floor(ms / UNIT_MS.m)
  if (minutes < 1) return 'just now'
  if (minutes < 60) return `${minutes} min ago`
  if (ms < DAY_MS) return `${Math.floor(minutes / 60)} h${minutes % 60 ? ` ${minutes % 60} min` : ''} ago`
  const days = Math.floor(ms / DAY_MS)
  if (days < MONTH_DAYS) return wholeAgo(days, 'day')
  return days < YEAR_DAYS ? wholeAgo(days / MONTH_DAYS, 'month') : wholeAgo(days / YEAR_DAYS, 'year')
}

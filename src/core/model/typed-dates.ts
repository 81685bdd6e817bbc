/** Dates as people type them into fields, and as fields show them: 2026-12-03, with a time 2026-12-03
 * 16:00. */

const FORM = /^(\d{4})-(\d{2})-(\d{2})(?:(?:T|\s+)(\d{1,2}):(\d{2}))?$/

/** Reads what was typed.
 * @returns ISO 8601 without a zone: `2026-12-03`, with `withTime` `2026-12-03T16:00`; `undefined` for
 * anything else, for days that no calendar has, and for a time where none is asked for or none where one
 * is */
export function readTypedDate(text: string, withTime = false): string | undefined {
  const found = FORM.exec(text.trim())
  if (!found) return undefined
  const [, year = '', month = '', day = '', hour, minute] = found
  if ((hour !== undefined) !== withTime) return undefined
  const days = new Date(Date.UTC(Number(year), Number(month) - 1, Number(day)))
  // A 30th of February would be a day of March.
  if (days.getUTCMonth() !== Number(month) - 1 || days.getUTCDate() !== Number(day)) return undefined
  const date = `${year}-${month}-${day}`
  if (hour === undefined || minute === undefined) return date
  if (Number(hour) > 23 || Number(minute) > 59) return undefined
  return `${date}T${hour.padStart(2, '0')}:${minute}`
}

/** How a field shows a date or a local date-time of ISO 8601; seconds are left out. */
export const showDate = (iso: string): string => iso.slice(0, 16).replace('T', ' ')

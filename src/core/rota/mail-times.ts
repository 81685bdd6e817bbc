/** When a report goes out: at a time of a place, each day or on one day of the week. */
import { DateTime } from 'luxon'

export type MailTime = {
  /** ISO: 1 is Monday; `null`: every day. */
  weekday: number | null
  /** HH:MM, as the clock of the place shows it. */
  time: string
  /** IANA. */
  zone: string
}

/** @returns the first after this moment. A time that the change of the clocks leaves out is the one as far
 * after midnight; one that comes twice is the first of both.
 * @throws {RangeError} no such zone */
export function nextMailTime({ weekday, time, zone }: MailTime, after: Date): Date {
  const now = DateTime.fromJSDate(after, { zone })
  if (!now.isValid) throw new RangeError(`there is no time zone ${zone}`)
  const [hour, minute] = time.split(':').map(Number) as [number, number]
  const away = weekday === null ? 0 : (weekday - now.weekday + 7) % 7
  const step = weekday === null ? 1 : 7
  const first = now.startOf('day').plus({ days: away })
  for (let i = 0; ; i++) {
    const at = first.plus({ days: i * step }).set({ hour, minute })
    if (at > now) return at.toJSDate()
  }
}

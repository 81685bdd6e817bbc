/** Events as iCalendar (RFC 5545), for calendars that people keep elsewhere. */

/** `start`, `end`, `stamp`: instants, ISO 8601. */
export type CalendarEvent = {
  uid: string
  start: string
  end: string
  title: string
  description: string
  url?: string
}

/** A whole calendar, lines ended and folded as the standard has it. */
export function writeCalendar(name: string, events: readonly CalendarEvent[], stamp: string): string {
  const lines = [
    'BEGIN:VCALENDAR',
    'VERSION:2.0',
    'PRODID:-//Oak Rotation//Rota//EN',
    'CALSCALE:GREGORIAN',
    'METHOD:PUBLISH',
    `X-WR-CALNAME:${text(name)}`,
    ...events.flatMap(({ uid, start, end, title, description, url }) => [
      'BEGIN:VEVENT',
      `UID:${text(uid)}`,
      `DTSTAMP:${utc(stamp)}`,
      `DTSTART:${utc(start)}`,
      `DTEND:${utc(end)}`,
      `SUMMARY:${text(title)}`,
      ...(description ? [`DESCRIPTION:${text(description)}`] : []),
      ...(url ? [`URL:${url}`] : []),
      'TRANSP:TRANSPARENT',
      'END:VEVENT',
    ]),
    'END:VCALENDAR',
  ]
  return lines.map(folded).join('\r\n') + '\r\n'
}

const utc = (instant: string) => new Date(instant).toISOString().replace(/[-:]|\.\d{3}/g, '')
const text = (written: string) => written.replace(/[\\;,]/g, '\\$&').replace(/\r?\n/g, '\\n')

/** No line is longer than 75 octets; what goes on begins with a space, and no character is torn apart. */
function folded(line: string): string {
  const encoder = new TextEncoder()
  const parts: string[] = []
  let part = ''
  let octets = 0
  for (const character of line) {
    const size = encoder.encode(character).length
    if (octets + size > 75) {
      parts.push(part)
      part = ' '
      octets = 1
    }
    part += character
    octets += size
  }
  return [...parts, part].join('\r\n')
}

import { writeCalendar } from './write-ical'

const event = {
  uid: 'a@1',
  start: '2026-11-23T12:30:00.000Z',
  end: '2026-11-23T13:30:00Z',
  title: 'Weekly Devices',
  description: '',
}

test('lines end as the standard has it; moments are in UTC; what means something in a line is escaped', () => {
  const text = writeCalendar(
    'Rota; of ours',
    [{ ...event, title: 'Gate, all; twice\\', description: 'one\ntwo', url: 'http://oak.test/x' }],
    '2026-11-23T08:00:00Z',
  )
  expect(text.endsWith('END:VCALENDAR\r\n')).toBe(true)
  expect(text.replaceAll('\r\n', '')).not.toMatch(/[\r\n]/)
  expect(text.split('\r\n').slice(5, 15)).toEqual([
    'X-WR-CALNAME:Rota\\; of ours',
    'BEGIN:VEVENT',
    'UID:a@1',
    'DTSTAMP:20261123T080000Z',
    'DTSTART:20261123T123000Z',
    'DTEND:20261123T133000Z',
    'SUMMARY:Gate\\, all\\; twice\\\\',
    'DESCRIPTION:one\\ntwo',
    'URL:http://oak.test/x',
    'TRANSP:TRANSPARENT',
  ])
})
test('no line is longer than 75 octets, and unfolded it is what it was, no character torn apart', () => {
  const title = 'Überfahrt nach Quillhaven – ⛴ '.repeat(12)
  const text = writeCalendar('x', [{ ...event, title }], '2026-11-23T08:00:00Z')
  expect(Math.max(...text.split('\r\n').map((line) => Buffer.byteLength(line)))).toBeLessThanOrEqual(75)
  expect(text.replaceAll('\r\n ', '')).toContain(`SUMMARY:${title}\r\n`)
})

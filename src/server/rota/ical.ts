/** The rota for calendars that people keep elsewhere. */
import { writeCalendar, type CalendarEvent } from '@/core/formats'
import { describeDuration } from '@/core/model'
import type { RotaViewModel } from '@/core/view-models'

/** Starts of a rota as events as long as their forecast. @param server where the rotations are opened */
export function rotaCalendar(
  { occurrences, now }: Pick<RotaViewModel, 'occurrences' | 'now'>,
  server: string,
): string {
  const events = occurrences
    .filter(({ state }) => state !== 'skipped' && state !== 'failed')
    .map((one): CalendarEvent => {
      const seats = Object.entries(one.seats)
        .map(([pool, count]) => `${count} of ${pool}`)
        .join(', ')
      return {
        uid: `${one.id.replaceAll(/[^\w@.-]/g, '')}.oak-rotation`,
        start: one.at,
        end: one.endedAt ?? new Date(Date.parse(one.at) + one.p90Ms).toISOString(),
        title: one.title,
        description:
          `Forecast: ${describeDuration(one.p50Ms)}, nine times in ten within ` +
          `${describeDuration(one.p90Ms)}.${seats ? `\nSeats: ${seats}.` : ''}${one.note ? `\n${one.note}.` : ''}`,
        url: `${server}/rotations/${one.rotation}`,
      }
    })
  return writeCalendar('Oak Rotation', events, now)
}

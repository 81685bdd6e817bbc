/** The span of time that a view of the rota shows, in the reader's time zone. */
import { addDays, startOfDay, startOfISOWeek } from 'date-fns'

export const SPANS = ['day', 'week', 'month', 'list'] as const
export type SpanName = (typeof SPANS)[number]
export const SPAN_WORDS: Record<SpanName, string> = {
  day: 'Day',
  week: 'Week',
  month: 'Four weeks',
  list: 'List',
}
const DAYS: Record<SpanName, number> = { day: 1, week: 7, month: 28, list: 7 }
/** A block that is dragged lands on whole steps of this. */
const SNAP_MS: Record<SpanName, number> = {
  day: 5 * 60_000,
  week: 15 * 60_000,
  month: 3_600_000,
  list: 5 * 60_000,
}

export type Span = { name: SpanName; from: Date; to: Date; days: number; snapMs: number }

/** @param day any moment in it */
export function spanOf(name: SpanName, day: Date): Span {
  const from = name === 'day' ? startOfDay(day) : startOfISOWeek(day)
  return { name, from, to: addDays(from, DAYS[name]), days: DAYS[name], snapMs: SNAP_MS[name] }
}

export const percentOf = ({ from, to }: Span, at: number) =>
  ((at - from.getTime()) / (to.getTime() - from.getTime())) * 100
export const dayKey = (day: Date) =>
  `${day.getFullYear()}-${String(day.getMonth() + 1).padStart(2, '0')}-${String(day.getDate()).padStart(2, '0')}`

export function spanWords({ name, from, to }: Span): string {
  const last = addDays(to, -1)
  const long = (date: Date, month = true) =>
    date.toLocaleDateString('en-GB', { day: 'numeric', ...(month && { month: 'long' }) })
  return name === 'day'
    ? from.toLocaleDateString('en-GB', { weekday: 'long', day: 'numeric', month: 'long' })
    : `${long(from, from.getMonth() !== last.getMonth())} to ${long(last)}`
}

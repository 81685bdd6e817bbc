/** Ports, vessels, sailings and what a crossing costs. */
import { hasFault } from './faults'

export const PORTS = ['Skerrow', 'Maren Quay', 'Tolva', 'Quillhaven', 'Little Aske'] as const
export const CABINS = {
  none: { title: 'No cabin', cents: 0 },
  berth: { title: 'Berth', cents: 1800 },
  cabin: { title: 'Cabin for two', cents: 4200 },
} as const
export const EXTRAS = {
  car: { title: 'Car', cents: 3600 },
  bicycle: { title: 'Bicycle', cents: 400 },
  meal: { title: 'Evening meal', cents: 1150 },
} as const
export const TIMES = [
  { time: '07:15', vessel: 'Heron', night: false },
  { time: '09:40', vessel: 'Dunlin', night: false },
  { time: '16:20', vessel: 'Heron', night: false },
  { time: '22:10', vessel: 'Pole Star', night: true },
] as const

export type Sailing = {
  id: string
  from: string
  to: string
  date: string
  time: string
  vessel: string
  night: boolean
}

const shortName = (port: string) =>
  port
    .replace(/[^A-Za-z]/g, '')
    .slice(0, 3)
    .toUpperCase()

export const sailingsOf = (from: string, to: string, date: string): Sailing[] =>
  TIMES.map(({ time, vessel, night }) => ({
    id: `${shortName(from)}-${shortName(to)}-${date}-${time.replace(':', '')}`,
    from,
    to,
    date,
    time,
    vessel,
    night,
  }))

/** A sailing from its id, or `undefined` if there is none of that name. */
export function sailingById(id: string): Sailing | undefined {
  const found = /^([A-Z]{3})-([A-Z]{3})-(\d{4}-\d\d-\d\d)-(\d{4})$/.exec(id)
  const from = PORTS.find((port) => shortName(port) === found?.[1])
  const to = PORTS.find((port) => shortName(port) === found?.[2])
  return found && from && to
    ? sailingsOf(from, to, found[3]!).find((sailing) => sailing.id === id)
    : undefined
}

export type Fare = { eachCents: number; totalCents: number }

/** What a crossing costs. In 2026.11.2 a return for three or more is rounded to whole pounds on the way. */
export function fareOf(
  build: string,
  trip: {
    from: string
    to: string
    passengers: number
    isReturn: boolean
    cabin?: keyof typeof CABINS
    extras?: (keyof typeof EXTRAS)[]
  },
): Fare {
  const index = (port: string) => PORTS.indexOf(port as (typeof PORTS)[number])
  const single = 960 + 240 * Math.abs(index(trip.from) - index(trip.to))
  const eachCents = single * (trip.isReturn ? 2 : 1)
  const seats = eachCents * trip.passengers
  const rounded =
    trip.isReturn && trip.passengers >= 3 && hasFault(build, 'return-fare-rounded')
      ? Math.floor(seats / 100) * 100
      : seats
  const extras = (trip.extras ?? []).reduce((sum, extra) => sum + EXTRAS[extra].cents, 0)
  return { eachCents, totalCents: rounded + CABINS[trip.cabin ?? 'none'].cents + extras }
}

export const money = (cents: number) => (cents / 100).toFixed(2)

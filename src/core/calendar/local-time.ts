/** Local times of a time zone and their instants, daylight saving time included. A local time is kept as
 * milliseconds as if it were UTC ("wall"); zones come from the IANA database. */
import { DateTime, IANAZone } from 'luxon'

const MINUTE_MS = 60_000
/** No two clock changes of a zone are nearer than this. */
const AROUND_MS = 24 * 60 * MINUTE_MS

/** Days whose offsets are remembered, for a zone. */
const KNOWN_MOST = 20_000

export class Zone {
  /** There are some 600; to ask whether a name is one costs more than all that is done with it. */
  private static readonly known = new Map<string, Zone>()
  /** Offsets at midnight (UTC), by day: to ask the database of zones for one is what takes long here. */
  private readonly offsets = new Map<number, number>()
  private constructor(private readonly zone: IANAZone) {}

  /** @returns `undefined` for a zone that the IANA database does not know */
  static named(name: string): Zone | undefined {
    const known = Zone.known.get(name)
    if (known) return known
    if (!IANAZone.isValidZone(name)) return undefined
    const zone = new Zone(IANAZone.create(name))
    Zone.known.set(name, zone)
    return zone
  }

  /** The local time at an instant. */
  wallOf = (instant: number): number => instant + this.offset(instant)

  /** The instant of a local time. One that a clock change skips moves forward by the gap; of one that occurs
   * twice the first is taken. */
  instantOf(wall: number): { at: number; skipped: boolean } {
    const [before, after] = [this.offset(wall - AROUND_MS), this.offset(wall + AROUND_MS)]
    const fitting = [wall - before, wall - after].filter((at) => this.wallOf(at) === wall)
    return fitting.length > 0
      ? { at: Math.min(...fitting), skipped: false }
      : { at: wall - before, skipped: true }
  }

  private offset(instant: number): number {
    const day = Math.floor(instant / AROUND_MS)
    const atItsStart = this.offsetAtStartOf(day)
    return atItsStart === this.offsetAtStartOf(day + 1) ? atItsStart : this.exactOffset(instant)
  }

  private offsetAtStartOf(day: number): number {
    const known = this.offsets.get(day)
    if (known !== undefined) return known
    if (this.offsets.size >= KNOWN_MOST) this.offsets.clear()
    const offset = this.exactOffset(day * AROUND_MS)
    this.offsets.set(day, offset)
    return offset
  }

  private exactOffset = (instant: number): number => Math.round(this.zone.offset(instant) * MINUTE_MS)
}

export type Moment = { at: number; wall: number; dateOnly: boolean }

const FORM = /^\d{4}-\d{2}-\d{2}(T\d{2}:\d{2}(:\d{2}(\.\d{1,3})?)?(Z|[+-]\d{2}:?\d{2})?)?$/

/** Reads a date, a local date-time of the zone, or an instant (with Z or an offset). @returns `undefined` for
 * anything else, and for days that no calendar has */
export function readMoment(text: string, zone: Zone): Moment | undefined {
  const found = FORM.exec(text)
  if (!found) return undefined
  const read = DateTime.fromISO(text, { zone: 'utc', setZone: false })
  if (!read.isValid) return undefined
  if (found[4]) return { at: read.toMillis(), wall: zone.wallOf(read.toMillis()), dateOnly: false }
  return { at: zone.instantOf(read.toMillis()).at, wall: read.toMillis(), dateOnly: found[1] === undefined }
}

/** A local time as ISO 8601 without a zone. */
export const writeWall = (wall: number): string => new Date(wall).toISOString().replace(/(\.000)?Z$/, '')
export const writeInstant = (at: number): string => new Date(at).toISOString()

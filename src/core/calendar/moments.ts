/** Instants of moments as people write them. */
import { readMoment, writeInstant, writeWall, Zone } from './local-time'

/** The instant of a local moment of a zone (or of one that names its own). @returns `undefined` for what is
 * no moment, and for zones that are none */
export function instantOf(moment: string, timezone: string): string | undefined {
  const zone = Zone.named(timezone)
  const read = zone && readMoment(moment, zone)
  return read && writeInstant(read.at)
}

/** The local time in a zone at an instant, like 2026-11-23T18:00:00.
 * @returns `undefined` for an unknown zone */
export function localOf(instant: string, timezone: string): string | undefined {
  const zone = Zone.named(timezone)
  return zone && writeWall(zone.wallOf(Date.parse(instant)))
}

import { describeTarget, type Target } from '@/core/model'
import { DriverFault } from './port'

/** The fault of a target that did not find exactly one element.
 * @param places what tells those apart that it found, see `placesOf` */
export function notOne(target: Target, count: number, places: readonly string[] = []): DriverFault {
  const name = describeTarget(target)
  if (count === 0) return new DriverFault('target', `${name} is not on the page`)
  const more = count > places.length ? `; and ${count - places.length} more` : ''
  const list =
    places.length === 0
      ? ''
      : ` (${places.join('; ')}${more}); say which by its number, or what it is within, beside or under`
  return new DriverFault('target', `${name}: ${count} elements match, one was expected${list}`)
}

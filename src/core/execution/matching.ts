/** Finds a place for one thing more, moving those that have one where that helps (augmenting paths, Kuhn
 * 1955): called for each thing in turn, it places as many as can be placed at once.
 * @param holders which thing holds which place; changed when the thing gets one
 * @param placesOf where a thing could go, the better places first
 * @returns whether it has a place now */
export function findPlace(
  holders: Map<number, number>,
  thing: number,
  placesOf: (thing: number) => Iterable<number>,
  seen = new Set<number>(),
): boolean {
  for (const place of placesOf(thing)) {
    if (seen.has(place)) continue
    seen.add(place)
    const holder = holders.get(place)
    if (holder !== undefined && !findPlace(holders, holder, placesOf, seen)) continue
    holders.set(place, thing)
    return true
  }
  return false
}

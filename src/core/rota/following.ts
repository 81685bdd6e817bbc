/** Starts of rotations that follow others: they are told ahead by the likely ends of what they follow. */

/** A start, planned or at work, and when it is likely to be over. */
export type LeadingStart = { id: string; rotation: string; endAt: string }
/** A rotation that starts when another is over. */
export type Follower = { rotation: string; follows: string; p50Ms: number }
export type FollowingStart = { rotation: string; at: string; behind: LeadingStart }

/** Each start of a follower, and those behind these in their turn, in the order of time. A circle ends where
 * it began: each rotation follows a start once. */
export function followingStarts(
  starts: readonly LeadingStart[],
  followers: readonly Follower[],
): FollowingStart[] {
  const found: FollowingStart[] = []
  const follow = (leading: LeadingStart, chain: readonly string[]): void => {
    for (const { rotation, follows, p50Ms } of followers) {
      if (follows !== leading.rotation || chain.includes(rotation)) continue
      const at = leading.endAt
      found.push({ rotation, at, behind: leading })
      const endAt = new Date(Date.parse(at) + p50Ms).toISOString()
      follow({ id: `${rotation}@${at}`, rotation, endAt }, [...chain, rotation])
    }
  }
  for (const start of starts) follow(start, [start.rotation])
  return found.sort((a, b) => (a.at < b.at ? -1 : 1))
}

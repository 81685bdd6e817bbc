/** Causes that people take for one: rules that hold for what comes later, too. */
import type { FailureGroup } from './group'

/** What each signature is taken for. */
export type Merges = Readonly<Record<string, string>>

/** Rules that lead to each other in a circle are followed once around. */
const STEPS_MOST = 50

/** The signature that stands for another one: what that is taken for, and so on. */
export function standsAs(signature: string, merges: Merges): string {
  const seen = new Set([signature])
  let now = signature
  for (let steps = 0; steps < STEPS_MOST && Object.hasOwn(merges, now); steps++) {
    const next = merges[now]!
    if (seen.has(next)) return now
    seen.add(next)
    now = next
  }
  return now
}

/** Groups that are taken for one, as one: called as the one they are taken for where that has members, else
 * as the largest of them.
 * @returns the largest first, all members of each in the order they came */
export function mergedGroups(groups: readonly FailureGroup[], merges: Merges): FailureGroup[] {
  const found = new Map<string, FailureGroup>()
  for (const one of groups) {
    const signature = standsAs(one.signature, merges)
    const known = found.get(signature)
    if (!known) found.set(signature, { ...one, signature, members: [...one.members] })
    else {
      known.members.push(...one.members)
      if (one.signature === signature) known.title = one.title
    }
  }
  return [...found.values()].toSorted((a, b) => b.members.length - a.members.length)
}

/** Causes that people take for one: rules that hold for what comes later, too. */

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

/** How severe a defect is likely to be: a proposal, with what speaks for it. */
import { SEVERITIES, type Severity } from '../tracker'

/** `environments`: on how many of those the case was tried with the build it failed. `times`: how often it
 * failed of how often it was tried where it failed. `cases`: how many fail of the same cause; absent: not
 * known. */
export type SeverityFacts = {
  priority: Severity
  environments: { failed: number; of: number }
  times: { failed: number; of: number }
  cases?: number
}
export type ProposedSeverity = { severity: Severity; because: string }

const [MANY_CASES, FEW_SHARE, TRIED_LEAST] = [5, 0.5, 4]

/** Begins with the priority of the case: one step up where it fails everywhere it was tried, or many cases
 * fail of it; one step down where it fails seldom, or on one of several environments. */
export function proposeSeverity({ priority, environments, times, cases }: SeverityFacts): ProposedSeverity {
  const reasons = [`the case has the priority ${priority}`]
  let steps = 0
  const because = (by: number, words: string) => {
    steps += by
    reasons.push(words)
  }
  if (environments.of > 1 && environments.failed === environments.of)
    because(1, `it fails on all ${environments.of} environments that were tried`)
  if (cases !== undefined && cases >= MANY_CASES) because(1, `${cases} cases fail of the same cause`)
  if (times.of >= TRIED_LEAST && times.failed / times.of < FEW_SHARE)
    because(-1, `it fails only ${times.failed} of ${times.of} times`)
  if (environments.of >= TRIED_LEAST && environments.failed === 1)
    because(-1, `it fails on one of ${environments.of} environments`)
  const moved = SEVERITIES.indexOf(priority) + Math.max(-1, Math.min(1, steps))
  const severity = SEVERITIES[Math.max(0, Math.min(SEVERITIES.length - 1, moved))]!
  return { severity, because: reasons.join('; ') }
}

/** What has become of a case run, from all its attempts: one a try, or one for each role of a joint case. */
import { decide, type AttemptOutcome, type Decision, type FailureKind, type Retries } from './outcomes'

/** An attempt as far as it matters here. `endedAt` orders those of one try; `told`: it was to end because
 * another role did. */
export type TryPart = {
  number: number
  role: string
  outcome: AttemptOutcome | null
  kind?: FailureKind
  recovered?: boolean
  endedAt?: number
  told?: boolean
}

export type Verdict =
  | { next: 'wait' }
  /** One role did not pass: the others have nobody left to do it with. */
  | { next: 'end-others'; because: TryPart }
  /** `decisive`: the part whose failure is that of the case run; absent when it passed. */
  | (Decision & { decisive?: TryPart })

/** What follows when an attempt has ended. A try ends with its last part; it passed when all parts did, else
 * it ended as the first one that did not.
 * @param parts every attempt of the case run, in any order */
export function judge(parts: readonly TryPart[], retries: Retries): Verdict {
  const newest = Math.max(...parts.map(({ number }) => number))
  const last = parts.filter(({ number }) => number === newest)
  const decisive = decisiveOf(last)
  if (last.some(({ outcome }) => outcome === null))
    return decisive && !last.every(({ outcome, told }) => outcome !== null || told)
      ? { next: 'end-others', because: decisive }
      : { next: 'wait' }
  const before = Array.from({ length: newest - 1 }, (_, i) =>
    parts.filter(({ number }) => number === i + 1),
  ).filter((one) => one.length > 0)
  return { ...decide(summaryOf(last), before.map(summaryOf), retries), ...(decisive && { decisive }) }
}

/** The part that did not pass first; one that was only told to end decides nothing while another does. */
function decisiveOf(parts: readonly TryPart[]): TryPart | undefined {
  const failing = parts
    .filter(({ outcome }) => outcome !== null && outcome !== 'passed')
    .sort((a, b) => (a.endedAt ?? 0) - (b.endedAt ?? 0))
  return failing.find(({ told }) => !told) ?? failing[0]
}

function summaryOf(parts: readonly TryPart[]): {
  outcome: AttemptOutcome
  kind?: FailureKind
  recovered: boolean
} {
  const decisive = decisiveOf(parts)
  return {
    outcome: decisive ? decisive.outcome! : 'passed',
    ...(decisive?.kind && { kind: decisive.kind }),
    recovered: parts.some(({ recovered }) => recovered),
  }
}

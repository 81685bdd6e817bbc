/** Parts of a cause that people set apart: rules that hold for what comes later, too. */

/** What a part is told by: the case (its key), the environment (its key), the agent (its name), or words in
 * what it says. */
export const SPLIT_BY = ['case', 'environment', 'agent', 'words'] as const
export type SplitBy = (typeof SPLIT_BY)[number]
/** `signature`: of the cause it was set apart of. `words`: as people read it, “on Harbour tablet”. */
export type Split = { id: number; signature: string; by: SplitBy; value: string; words: string }
/** What a failure is told apart by. */
export type SplitFacts = { message: string; caseKey: string; environment: string; agent: string }

/** Signatures have at most 400 characters. */
const SIGNATURE_CHARS = 380

/** The signature of the part that a rule sets apart. */
export const splitSignature = ({ id, signature }: Pick<Split, 'id' | 'signature'>): string =>
  `${signature.slice(0, SIGNATURE_CHARS)} / ${id}`

/** Whether a failure is of the part. Words are found in any letters, large or small. */
export function isOfPart({ by, value }: Pick<Split, 'by' | 'value'>, failure: SplitFacts): boolean {
  if (by === 'words') return failure.message.toLowerCase().includes(value.toLowerCase())
  return { case: failure.caseKey, environment: failure.environment, agent: failure.agent }[by] === value
}

/** What tells a part, as people read it. @param label the case's title, the environment's, or the value */
export const splitWords = (by: SplitBy, label: string): string =>
  ({
    case: `in “${label}”`,
    environment: `on ${label}`,
    agent: `on agent ${label}`,
    words: `saying “${label}”`,
  })[by]

type Member = Readonly<{
  caseKey: string
  title: string
  environmentKey: string
  environment: string
  agent: string
}>
/** A part that members of a cause could be told by. `count`: of how many of them. */
export type Part = { by: Exclude<SplitBy, 'words'>; value: string; label: string; count: number }

/** The parts of a cause: each case, environment and agent that some of its members have and others have not.
 * @returns the largest first, cases before environments before agents where they are alike */
export function partsOf(members: readonly Member[]): Part[] {
  const found = new Map<string, Part>()
  for (const { caseKey, title, environmentKey, environment, agent } of members)
    for (const [by, value, label] of [
      ['case', caseKey, title],
      ['environment', environmentKey, environment],
      ['agent', agent, agent],
    ] as const) {
      const known = found.get(`${by} ${value}`)
      if (known) known.count++
      else found.set(`${by} ${value}`, { by, value, label, count: 1 })
    }
  return [...found.values()]
    .filter(({ value, count }) => value !== '' && count < members.length)
    .toSorted(
      (a, b) =>
        b.count - a.count || SPLIT_BY.indexOf(a.by) - SPLIT_BY.indexOf(b.by) || (a.label < b.label ? -1 : 1),
    )
}

/** What people decide of a cause, once for all its failures. */
import type { CauseName, GroupFacts } from './evidence'

export const DECISIONS = [
  'product-defect',
  'known-defect',
  'test-fault',
  'environment-fault',
  'test-data',
  'intended-change',
  'unclear',
  'no-failure',
] as const
export type DecisionKind = (typeof DECISIONS)[number]

/** `build`: of the run it was decided in. */
export type Decision = { signature: string; as: DecisionKind; build: string; facts: GroupFacts }

/** The kind of cause that a decision says; a failure that is none has no cause. */
export function causeDecided(as: DecisionKind): CauseName | undefined {
  if (as === 'no-failure') return undefined
  return as === 'known-defect' ? 'product-defect' : as
}

/** Whether it still stands for failures of a build. With another build the same words may have another cause:
 * somebody looks again. */
export const standsFor = ({ build }: Pick<Decision, 'build'>, ofBuild: string): boolean => build === ofBuild

/** What the model of likely causes learns from. */
export const examplesOf = (decisions: readonly Decision[]): { group: GroupFacts; cause: CauseName }[] =>
  decisions.flatMap(({ as, facts }) => {
    const cause = causeDecided(as)
    return cause === undefined ? [] : [{ group: facts, cause }]
  })

/** `isCurrent`: found with the newest build. `isNew`: with the build before no case of it failed. `blocked`:
 * requirements that its cases are evidence for. `waiting`: people who wait for it. `likely`: that it is a
 * defect of the product, from 0 to 1. */
export type Urgency = {
  failures: number
  isCurrent: boolean
  isNew: boolean
  isDecided: boolean
  blocked: number
  waiting: number
  likely: number
}

/** Those that somebody has to look at come first: of the newest build before those of others, what is new in
 * it before what is old; then by what hangs on it (requirements, people, and the cause itself) times how
 * likely it is a defect of the product, and the larger before the smaller. What is decided stands apart,
 * after them. */
export const byUrgency = <C extends Urgency>(causes: readonly C[]): C[] =>
  causes.toSorted(
    (a, b) =>
      Number(a.isDecided) - Number(b.isDecided) ||
      Number(b.isCurrent) - Number(a.isCurrent) ||
      Number(b.isNew) - Number(a.isNew) ||
      weightOf(b) - weightOf(a) ||
      b.failures - a.failures,
  )

/** In hundredths: shares that people see as the same are the same. */
const weightOf = ({ blocked, waiting, likely }: Urgency) => (1 + blocked + waiting) * Math.round(100 * likely)

/** The causes of several runs as one list: each signature once.
 * @param causes of the newest run first
 * @returns each with all it was found in, in the same order */
export function overRuns<C extends { signature: string }>(causes: readonly C[]): [C, ...C[]][] {
  const groups = new Map<string, [C, ...C[]]>()
  for (const one of causes) {
    const known = groups.get(one.signature)
    if (known) known.push(one)
    else groups.set(one.signature, [one])
  }
  return [...groups.values()]
}

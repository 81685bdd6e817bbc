/** The failures of one run, told apart: what belongs together, where it happens, and what it probably is. */
import { causeBy, learnt, type CauseAnswer, type Weights } from './cause'
import { causeDecided, examplesOf, type Decision } from './decisions'
import type { CauseName, GroupFacts } from './evidence'
import { group, type GroupedFailure } from './group'
import { standingGroups, type StandingRules } from './standing'
import { where, type Factors, type Place } from './where'

/** A failure, with what it happened on. `isNew`: its case did not fail with the build before; absent: nothing
 * is known of one. */
export type RunFailure = GroupedFailure & {
  caseKey: string
  environment: string
  agent: string
  isNew?: boolean
  /** Share of its earlier results in which it failed now and then, from 0 to 1; absent: none are known. */
  flakyBefore?: number
}
/** `ended`: all case runs of the run that have ended, failed or not, by id. `decisions`: what people decided
 * of these and other causes, oldest first. `rules`: what they take for one, and set apart. `putRight`: tries
 * that failed in case runs which passed when they were tried again, by ids of their own. */
export type RunCausesInput = {
  failures: RunFailure[]
  ended: { id: string; environment: string; caseKey: string; factors: Factors }[]
  unhealthyAgents: string[]
  decisions: Decision[]
  rules?: StandingRules
  putRight?: RunFailure[]
}
export type RunCause = {
  signature: string
  title: string
  members: string[]
  cases: number
  environments: { failed: number; of: number }
  where: Place[]
  /** The likelier first. */
  likely: { cause: CauseName; likelihood: number }[]
  because: string[]
  /** A case of it did not fail with the build before. */
  isNew: boolean
  facts: GroupFacts
}
/** How alike a group is to one of the same signature that was decided before. */
const SAME_SCORE = 0.9
const [BECAUSE_MOST, PLACES_MOST] = [3, 2]
const NO_RULES: StandingRules = { merges: {}, splits: [] }

/** What the likelihoods are weighed by after these decisions: with hundreds of them that takes a moment, so
 * who asks again and again keeps it. */
export const weightsBy = (decisions: readonly Decision[]): Weights => learnt(examplesOf(decisions))

/** @param weights what was learnt from the decisions
 * @returns the largest group first; all their members together are the failures, each once */
export function causesOfRun(
  { failures, ended, unhealthyAgents, decisions, rules = NO_RULES, putRight = [] }: RunCausesInput,
  weights: Weights = weightsBy(decisions),
): RunCause[] {
  const byId = new Map(failures.map((failure) => [failure.id, failure]))
  const all = new Map([...putRight, ...failures].map((failure) => [failure.id, failure]))
  const unhealthy = new Set(unhealthyAgents)
  const decided = new Map(decisions.map((one) => [one.signature, causeDecided(one.as)]))
  const groups = standingGroups(group({ failures: [...all.values()] }), rules, (id) => all.get(id)!)
    .map((one) => ({ ...one, members: one.members.filter((id) => byId.has(id)), tries: one.members.length }))
    .filter(({ members }) => members.length > 0)
    .toSorted((a, b) => b.members.length - a.members.length)
  return groups.map(({ signature, title, members, tries }) => {
    const own = members.map((id) => byId.get(id)!)
    const [isMember, cases, failedOn] = [
      new Set(members),
      new Set(own.map(({ caseKey }) => caseKey)),
      new Set(own.map(({ environment }) => environment)),
    ]
    const ranOn = new Set(
      ended.flatMap(({ caseKey, environment }) => (cases.has(caseKey) ? [environment] : [])),
    )
    const places = where({ rows: ended.map(({ id, factors }) => ({ failed: isMember.has(id), factors })) })
    const agents = new Set(own.map(({ agent }) => agent))
    const environments = { failed: failedOn.size, of: Math.max(ranOn.size, failedOn.size) }
    const isNew = own.some((failure) => failure.isNew === true)
    const before = decided.get(signature)
    const facts: GroupFacts = {
      kinds: counted(own.map(({ kind }) => kind)),
      failures: own.length,
      cases: cases.size,
      environments,
      where: places.map((place) => ({ ...place })),
      ...(own.some((failure) => failure.isNew !== undefined) && { newInBuild: isNew }),
      flakyBefore: mean(own.map((failure) => failure.flakyBefore ?? 0)),
      agents: {
        involved: agents.size,
        unhealthy: [...agents].filter((agent) => unhealthy.has(agent)).length,
      },
      recovered: (tries - members.length) / tries,
      similar: before ? [{ cause: before, score: SAME_SCORE }] : [],
    }
    return {
      signature,
      title,
      members,
      cases: cases.size,
      environments,
      where: places.slice(0, PLACES_MOST),
      ...likeliest(causeBy(weights, facts)),
      isNew,
      facts: { ...facts, similar: [] }, // what was decided of itself is no evidence to learn from
    }
  })
}

function likeliest({ likelihoods, because }: CauseAnswer): Pick<RunCause, 'likely' | 'because'> {
  const likely = (Object.entries(likelihoods) as [CauseName, number][])
    .map(([name, likelihood]) => ({ cause: name, likelihood }))
    .sort((a, b) => b.likelihood - a.likelihood)
  const first = likely[0]!.cause
  const reasons = because.filter((reason) => reason.cause === first).map(({ text }) => text)
  return { likely, because: [...new Set(reasons)].slice(0, BECAUSE_MOST) }
}

const mean = (shares: readonly number[]): number =>
  shares.reduce((sum, share) => sum + share, 0) / Math.max(1, shares.length)

function counted(texts: readonly string[]): Record<string, number> {
  const counts: Record<string, number> = {}
  for (const text of texts) counts[text] = (counts[text] ?? 0) + 1
  return counts
}

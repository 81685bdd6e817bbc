/** Whether requirements are met by a build, as far as cases tell: by requirement and environment. */
import { groupBy } from '../model'
import type { Requirement } from './requirement'

/** The newest of a case on an environment; of several rows the worst. `quarantined`: it may fail. */
export type CaseResult = {
  caseKey: string
  environment: string
  isGood: boolean
  quarantined: boolean
  runId: number
  attemptId: string | null
}

/** From the worst to the best. `uncovered`: no case is evidence for it. `partly`: what ran passed, and not
 * all of its cases ran. */
export const COVERAGES = ['failing', 'uncovered', 'not-run', 'partly', 'passing'] as const
export type Coverage = (typeof COVERAGES)[number]

/** `cells`: by environment, of its own cases and those of its parts; absent: nothing of it ran there.
 * `own`: of its own cases alone, `null`: it has none, and parts. */
export type CoveredRequirement = Requirement & {
  depth: number
  cases: string[]
  own: Coverage | null
  coverage: Coverage
  cells: Record<string, Coverage>
}

export type CoverageInput = {
  requirements: readonly Requirement[]
  /** Keys of the requirements that each case is evidence for. */
  cases: readonly { key: string; requires: readonly string[] }[]
  results: readonly CaseResult[]
}

/** @returns the requirements as a tree, parents before their parts; and cases that name what is no
 * requirement */
export function coverageOf({ requirements, cases, results }: CoverageInput): {
  requirements: CoveredRequirement[]
  counts: Record<Coverage, number>
  unknown: { key: string; cases: string[] }[]
} {
  const casesOf = new Map<string, string[]>()
  for (const { key, requires } of cases)
    for (const id of new Set(requires)) casesOf.set(id, [...(casesOf.get(id) ?? []), key])
  const resultsOf = groupBy(results.filter(tells), ({ caseKey }) => caseKey)
  const partsOf = groupBy(requirements, ({ parent }) => parent)
  const covered: CoveredRequirement[] = []

  const visit = (requirement: Requirement, depth: number): CoveredRequirement => {
    const keys = casesOf.get(requirement.key) ?? []
    const ofCases = keys.map((key) => resultsOf.get(key) ?? [])
    const parts = partsOf.get(requirement.key) ?? []
    const own = keys.length > 0 ? ofOwnCases(ofCases) : null
    const at = covered.length
    covered.push(undefined as unknown as CoveredRequirement)
    const within = parts.map((part) => visit(part, depth + 1))
    const all = [...(own ? [own] : []), ...within.map(({ coverage }) => coverage)]
    const line: CoveredRequirement = {
      ...requirement,
      depth,
      cases: keys,
      own: own ?? (parts.length > 0 ? null : 'uncovered'),
      coverage: all.length === 0 ? 'uncovered' : worst(all),
      cells: cellsOf(ofCases, within),
    }
    return (covered[at] = line)
  }
  for (const root of partsOf.get(null) ?? []) visit(root, 0)

  const known = new Set(requirements.map(({ key }) => key))
  const leaves = covered.filter(({ own }) => own !== null)
  return {
    requirements: covered,
    counts: Object.fromEntries(
      COVERAGES.map((one) => [one, leaves.filter(({ own }) => own === one).length]),
    ) as Record<Coverage, number>,
    unknown: [...casesOf].filter(([key]) => !known.has(key)).map(([key, of]) => ({ key, cases: of })),
  }
}

/** A case in quarantine that fails tells nothing. */
const tells = ({ isGood, quarantined }: CaseResult) => isGood || !quarantined
const isFailing = ({ isGood }: CaseResult) => !isGood

/** @param ofCases results of each case, on all environments */
function ofOwnCases(ofCases: readonly (readonly CaseResult[])[]): Coverage {
  const results = ofCases.flat()
  if (results.some(isFailing)) return 'failing'
  if (results.length === 0) return 'not-run'
  return ofCases.every((one) => one.length > 0) ? 'passing' : 'partly'
}

function cellsOf(
  ofCases: readonly (readonly CaseResult[])[],
  parts: readonly CoveredRequirement[],
): Record<string, Coverage> {
  const own = groupBy(ofCases.flat(), ({ environment }) => environment)
  const environments = new Set([...own.keys(), ...parts.flatMap(({ cells }) => Object.keys(cells))])
  return Object.fromEntries(
    [...environments].map((environment): [string, Coverage] => {
      const here = own.get(environment) ?? []
      const ran = new Set(here.map(({ caseKey }) => caseKey)).size
      const ofOwn: Coverage = ran === ofCases.length ? 'passing' : 'partly'
      return [
        environment,
        worst([
          ...(here.length > 0 ? [here.some(isFailing) ? ('failing' as const) : ofOwn] : []),
          // of what never ran there nothing is known
          ...parts.map(({ cells }): Coverage => cells[environment] ?? 'not-run'),
        ]),
      ]
    }),
  )
}

/** Of what has failing parts, it fails; of what has some that pass and some that did not run, it is met in
 * part. */
function worst(all: readonly Coverage[]): Coverage {
  if (all.includes('failing')) return 'failing'
  const first = all[0]!
  if (all.every((one) => one === first)) return first
  return all.some((one) => one === 'passing' || one === 'partly') ? 'partly' : 'not-run'
}

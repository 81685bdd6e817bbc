/** What there is to see of a group of failures, as numbers from 0 to 1 that a model can weigh, each in
 * words. */

export const CAUSES = [
  'product-defect',
  'test-fault',
  'environment-fault',
  'test-data',
  'intended-change',
  'unclear',
] as const
export type CauseName = (typeof CAUSES)[number]

/** `environments`: how many failed of those it ran on. `flakyBefore`, `recovered`: shares from 0 to 1.
 * `similar`: groups that were decided, and how alike they are. */
export type GroupFacts = {
  kinds: Record<string, number>
  failures: number
  cases: number
  environments: { failed: number; of: number }
  where: { factors: Record<string, unknown>; ratio: number | null; p: number; covers: number }[]
  /** Absent: nothing is known of an earlier build. */
  newInBuild?: boolean
  flakyBefore: number
  agents: { involved: number; unhealthy: number }
  recovered: number
  similar: { cause: CauseName; score: number }[]
}

/** Kinds of failures that say something of their cause. */
const KINDS: Record<string, string> = {
  check: 'checks found something else',
  target: 'targets were not found',
  dialog: 'a dialog was open',
  page: 'pages failed',
  script: 'scripts failed',
  'time-limit': 'time ran out',
  agent: 'agents failed',
  data: 'data was not there, or could not be read',
}
/** Factors that are of machines and times, and those that are of what is tested. */
const OF_MACHINES = /^(?:agent|host|machine|seat|pool|hour|minute|day|weekday|network)$/i
const OF_PRODUCT = /^(?:browser|engine|os|platform|build|version|application|locale|width|screen)$/i

export type Evidence = { name: string; value: number; text: string }

export function evidenceOf(facts: GroupFacts): Evidence[] {
  const found: Evidence[] = []
  const add = (name: string, value: number, text: string) => {
    const bounded = Number.isFinite(value) ? Math.min(1, Math.max(0, value)) : 0
    if (bounded > 0) found.push({ name, value: bounded, text })
  }
  const counted = Object.values(facts.kinds).reduce((sum, n) => sum + n, 0)
  for (const [kind, text] of Object.entries(KINDS))
    if (Object.hasOwn(facts.kinds, kind) && counted > 0)
      add(`kind:${kind}`, facts.kinds[kind]! / counted, text)

  const { failed, of } = facts.environments
  if (of > 1 && failed === of)
    add('everywhere', 1, `it fails on ${of === 2 ? 'both' : `all ${of}`} environments`)
  if (of > 1 && failed < of) add('somewhere', 1 - failed / of, `it fails on ${failed} of ${of} environments`)
  for (const [name, pattern, what] of [
    ['at-machine', OF_MACHINES, 'it stays with machines or times'],
    ['at-product', OF_PRODUCT, 'it stays with what is tested'],
  ] as const) {
    const places = facts.where.filter(({ factors }) =>
      Object.keys(factors).some((factor) => pattern.test(factor)),
    )
    const best = places.toSorted((a, b) => b.covers * (1 - b.p) - a.covers * (1 - a.p))[0]
    if (best) add(name, best.covers * (1 - best.p), `${what}: ${wordsOf(best.factors)}`)
  }
  if (facts.newInBuild === true) add('new', 1, 'it is new in this build')
  if (facts.newInBuild === false) add('old', 1, 'it failed before this build, too')
  add('flaky', facts.flakyBefore, `its cases failed now and then before: ${percent(facts.flakyBefore)}`)
  add('recovered', facts.recovered, `${percent(facts.recovered)} passed when they were tried again`)
  const { involved, unhealthy } = facts.agents
  if (involved > 0) add('unhealthy', unhealthy / involved, `${unhealthy} of ${involved} agents are not well`)
  if (involved === 1 && facts.failures > 2) add('one-agent', 1, 'all of it is on one agent')
  if (facts.cases > 1) add('many-cases', 1 - 1 / facts.cases, `${facts.cases} cases fail in the same way`)
  for (const cause of CAUSES) {
    const score = Math.max(0, ...facts.similar.filter((one) => one.cause === cause).map((one) => one.score))
    add(`similar:${cause}`, score, `a group like it was decided as ${cause.replaceAll('-', ' ')}`)
  }
  return found
}

const percent = (share: number) => `${Math.round(share * 100)} in 100`
const wordsOf = (factors: Record<string, unknown>) =>
  Object.entries(factors)
    .map(([name, value]) => `${name} ${String(value)}`)
    .join(', ')

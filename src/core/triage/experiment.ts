/** Running again to find out: which few runs tell the likely causes of a failure apart best, and what they
 * tell. The runs are chosen before the first one by how much they are expected to tell (Lindley 1956, "On a
 * measure of the information provided by an experiment"), for what they take. */
import { CAUSES, type CauseName } from './evidence'

/** The same again; with the last build that was good there; with the same build elsewhere. */
export const ARMS = ['again', 'before', 'elsewhere'] as const
export type Arm = (typeof ARMS)[number]
export type Likelihoods = Record<CauseName, number>
/** `failed` of `of` runs of an arm. What neither passed nor failed says nothing, and is not counted. */
export type ArmResult = { arm: Arm; failed: number; of: number }
/** `bits`: how much of not knowing it is expected to take away, of `bitsNow`. */
export type Experiment = {
  times: Record<Arm, number>
  bits: number
  bitsNow: number
  caseRuns: number
  ms: number
}

/** How often a case fails in a run of an arm, by what is the matter. Of a product defect: where it was seen
 * nearly always, and not before the build that brought it. What is the environment's own does not go along
 * elsewhere. "unclear" is what comes and goes by itself. */
const FAILS: Record<CauseName, Record<Arm, number>> = {
  'product-defect': { again: 0.92, before: 0.06, elsewhere: 0.75 },
  'test-fault': { again: 0.85, before: 0.75, elsewhere: 0.8 },
  'environment-fault': { again: 0.6, before: 0.6, elsewhere: 0.06 },
  'test-data': { again: 0.9, before: 0.85, elsewhere: 0.9 },
  'intended-change': { again: 0.97, before: 0.03, elsewhere: 0.95 },
  unclear: { again: 0.25, before: 0.25, elsewhere: 0.25 },
}
/** Runs of an arm, and of all of them, are no more than somebody waits for. */
const [TIMES_MOST, RUNS_MOST] = [4, 8]
/** A smaller experiment is as good when it tells so much of what the best one does. */
const NEARLY = 0.9
/** Who knows it already learns nothing by running. */
const BITS_LEAST = 0.02

/** What the likelihoods are after some runs (Bayes' rule).
 * @returns they add up to 1 */
export function afterRuns(likely: Likelihoods, results: readonly ArmResult[]): Likelihoods {
  const weighed = CAUSES.map((cause) => {
    const logs = results.map(({ arm, failed, of }) => {
      const fails = FAILS[cause][arm]
      return failed * Math.log(fails) + (of - failed) * Math.log(1 - fails)
    })
    return Math.log(Math.max(likely[cause], 1e-6)) + logs.reduce((sum, log) => sum + log, 0)
  })
  // taken from the largest: many runs would make all of them nothing
  const most = Math.max(...weighed)
  const shares = weighed.map((log) => Math.exp(log - most))
  const whole = shares.reduce((sum, share) => sum + share, 0)
  return Object.fromEntries(CAUSES.map((cause, i) => [cause, shares[i]! / whole])) as Likelihoods
}

/** The runs that tell most for what they take.
 * @param likely what is thought now
 * @param msOf how long one run of an arm takes; absent: there is no such arm (nothing was good before, or
 * there is no other environment)
 * @returns nothing where no runs would tell anything more */
export function experimentFor(
  likely: Likelihoods,
  msOf: Readonly<Partial<Record<Arm, number>>>,
): Experiment | undefined {
  const bitsNow = entropyOf(CAUSES.map((cause) => likely[cause]))
  const all = timesOf(msOf).map((times): Experiment => {
    const caseRuns = ARMS.reduce((sum, arm) => sum + times[arm], 0)
    const ms = ARMS.reduce((sum, arm) => sum + times[arm] * (msOf[arm] ?? 0), 0)
    return { times, bits: bitsNow - expectedEntropy(likely, times), bitsNow, caseRuns, ms }
  })
  const best = Math.max(0, ...all.map(({ bits }) => bits))
  if (best < BITS_LEAST) return undefined
  return all
    .filter(({ bits }) => bits >= best * NEARLY)
    .toSorted((a, b) => a.ms - b.ms || a.caseRuns - b.caseRuns || b.bits - a.bits)[0]
}

/** All that could be tried, the empty one left out. */
function timesOf(msOf: Readonly<Partial<Record<Arm, number>>>): Record<Arm, number>[] {
  const most = (arm: Arm) => (msOf[arm] === undefined ? 0 : TIMES_MOST)
  const some: Record<Arm, number>[] = []
  for (let again = 0; again <= most('again'); again++)
    for (let before = 0; before <= most('before'); before++)
      for (let elsewhere = 0; elsewhere <= most('elsewhere'); elsewhere++) {
        const runs = again + before + elsewhere
        if (runs > 0 && runs <= RUNS_MOST) some.push({ again, before, elsewhere })
      }
  return some
}

/** Over all ways the runs may end, each as likely as the causes make it. */
function expectedEntropy(likely: Likelihoods, times: Record<Arm, number>): number {
  let expected = 0
  for (let again = 0; again <= times.again; again++)
    for (let before = 0; before <= times.before; before++)
      for (let elsewhere = 0; elsewhere <= times.elsewhere; elsewhere++) {
        const failed = { again, before, elsewhere }
        const joint = CAUSES.map((cause) =>
          ARMS.reduce(
            (chance, arm) => chance * binomial(times[arm], failed[arm], FAILS[cause][arm]),
            likely[cause],
          ),
        )
        const chance = joint.reduce((sum, share) => sum + share, 0)
        if (chance > 0) expected += chance * entropyOf(joint.map((share) => share / chance))
      }
  return expected
}

const entropyOf = (shares: readonly number[]): number =>
  shares.reduce((bits, share) => (share > 0 ? bits - share * Math.log2(share) : bits), 0)

function binomial(of: number, failed: number, p: number): number {
  let ways = 1
  for (let i = 0; i < failed; i++) ways = (ways * (of - i)) / (i + 1)
  return ways * p ** failed * (1 - p) ** (of - failed)
}

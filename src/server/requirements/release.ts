/** What is known of a build, as its release sheet says it. */
import { createHash } from 'node:crypto'
import { overRuns, standsAs, standsFor } from '@/core/triage'
import { coverageOf, releaseSheet, type ReleaseInput } from '@/core/requirements'
import { TRACKER_OVER, type BuildsViewModel, type ReleaseViewModel } from '@/core/view-models'
import { decisionsOf } from '@/db/decisions'
import { mergesNow } from '@/db/merges'
import { listQuarantines } from '@/db/recovery'
import {
  casesWithRequirements,
  defectsOfBuild,
  listRequirements,
  rehearsedWith,
  releasesOf,
  resultsOfBuild,
  resultsOfBuilds,
  runsGoingWith,
  type ResultOfBuild,
} from '@/db/requirements'
import { causesOfBuild } from '@/db/run-causes'
import { buildLines, listEnvironments } from '@/db/workspace'
import type { Context } from '../context'
import { mergesOf } from '../triage/run-causes'

type Reading = Pick<Context, 'db' | 'now'>
const CAUSES_MOST = 2000

/** @param asked a build; another than those there are, or none: the newest that anything ran with */
export async function releaseViewModel(ctx: Reading, asked: string | null): Promise<ReleaseViewModel> {
  const lines = await buildLines(ctx.db)
  const builds = lines.map(({ label }) => label)
  const build = builds.find((one) => one === asked) ?? lines.find(({ runs }) => runs > 0)?.label ?? builds[0]
  const older = lines.slice(builds.indexOf(build ?? '') + 1)
  const ranBefore = older.filter(({ runs }) => runs > 0).map(({ label }) => label)
  const known = await knownOf(ctx, build ?? null, ranBefore)
  const { input, coverage, results, environments, cases } = known
  const sheet = input && releaseSheet(input)
  return {
    builds,
    build: build ?? null,
    sheet,
    seen: createHash('sha256').update(JSON.stringify(sheet)).digest('hex'),
    ...coverage,
    environments: environments.filter(({ key }) => results.some(({ environment }) => environment === key)),
    cases: Object.fromEntries(cases.map(({ key, title }) => [key, title])),
    signed: build === undefined ? [] : await signedOf(ctx, build),
  }
}

/** Requirements by build: this one and those before it that anything ran with, the newest first. */
export async function coverageByBuild(
  { db }: Pick<Context, 'db'>,
  asked: string | null,
): Promise<BuildsViewModel> {
  const lines = (await buildLines(db)).filter(({ runs }) => runs > 0)
  const from = Math.max(
    0,
    lines.findIndex(({ label }) => label === asked),
  )
  const builds = lines.slice(from, from + BUILDS_SHOWN).map(({ label }) => label)
  const [requirements, cases, results] = await Promise.all([
    listRequirements(db),
    casesWithRequirements(db),
    resultsOfBuilds(db, builds),
  ])
  // a build stands in the place of an environment: the same rules tell what is met
  const placed = results.map(({ build, ...one }) => ({
    ...one,
    environment: build,
    runId: 0,
    attemptId: null,
  }))
  const covered = coverageOf({ requirements, cases, results: placed }).requirements
  return { builds, cells: Object.fromEntries(covered.map(({ key, cells }) => [key, cells])) }
}
const BUILDS_SHOWN = 6

const signedOf = async (ctx: Reading, build: string) =>
  (await releasesOf(ctx.db, build)).map((one) => ({ ...one, at: one.at.toISOString() }))

async function knownOf(ctx: Reading, build: string | null, ranBefore: readonly string[]) {
  const [requirements, cases, environments, results] = await Promise.all([
    listRequirements(ctx.db),
    casesWithRequirements(ctx.db),
    listEnvironments(ctx.db),
    build === null ? [] : resultsOfBuild(ctx.db, build),
  ])
  const coverage = coverageOf({ requirements, cases, results })
  const input =
    build === null ? null : await inputOf(ctx, { build, ranBefore, results, environments, cases, coverage })
  return { input, coverage, results, environments, cases }
}

type Known = {
  build: string
  ranBefore: readonly string[]
  results: readonly ResultOfBuild[]
  environments: readonly { key: string; title: string }[]
  cases: readonly { key: string; title: string }[]
  coverage: ReturnType<typeof coverageOf>
}

async function inputOf(ctx: Reading, known: Known): Promise<ReleaseInput> {
  const { build, results, cases, coverage } = known
  const [before, defects, { causes, looked }, going, rehearsed, quarantines] = await Promise.all([
    resultsBefore(ctx, known),
    defectsOfBuild(ctx.db, build),
    causesOf(ctx, known),
    runsGoingWith(ctx.db, build),
    rehearsedWith(ctx.db, build),
    listQuarantines(ctx.db),
  ])
  const titles = new Map([...(before?.results ?? []), ...results].map((one) => [one.caseKey, one.title]))
  for (const { key, title } of cases) titles.set(key, title)
  const ran = new Set(results.map(({ caseKey }) => caseKey))
  const wanted = [...cases.map(({ key }) => key), ...(before?.results.map(({ caseKey }) => caseKey) ?? [])]
  const notRun = [...new Set(wanted)]
    .filter((key) => !ran.has(key))
    .map((key) => ({ key, title: titles.get(key) ?? key }))
  const now = ctx.now.moment ?? new Date()
  return {
    build,
    before: before && { build: before.build, ...counted(before.results) },
    results: {
      ...counted(results),
      runs: new Set(results.map(({ runId }) => runId)).size,
      unlooked: unlookedOf(results, looked),
      going,
    },
    requirements: coverage.requirements
      .filter(({ own }) => own !== null)
      .map(({ own, ...one }) => ({ ...one, coverage: own! })),
    defects: defects.map(({ trackerState, ...one }) => ({ ...one, isOver: trackerState === TRACKER_OVER })),
    causes,
    notRun,
    rehearsed: notRun.filter(({ key }) => rehearsed.has(key)),
    quarantined: quarantines
      .filter(({ until, caseKey }) => until > now && titles.has(caseKey))
      .map(({ caseKey, until, because }) => ({
        key: caseKey,
        title: titles.get(caseKey)!,
        until: until.toISOString(),
        because,
      })),
  }
}

const counted = (results: readonly ResultOfBuild[]) => {
  const good = results.filter(({ isGood }) => isGood).length
  return { good, failing: results.length - good }
}

/** Runs whose failures count and have no cause: they were not looked at yet, or brought from elsewhere. */
const unlookedOf = (results: readonly ResultOfBuild[], looked: ReadonlySet<number>): number =>
  new Set(
    results
      .filter(({ isGood, quarantined, runId }) => !isGood && !quarantined && !looked.has(runId))
      .map((one) => one.runId),
  ).size

/** Of the newest build before it that anything ran with to its end: mostly the first that is asked. */
async function resultsBefore(ctx: Reading, { ranBefore }: Known) {
  for (const before of ranBefore.slice(0, BUILDS_LOOKED)) {
    const results = await resultsOfBuild(ctx.db, before)
    if (results.length > 0) return { build: before, results }
  }
  return null
}
const BUILDS_LOOKED = 5

async function causesOf(
  ctx: Reading,
  { build, results, environments }: Known,
): Promise<{ causes: ReleaseInput['causes']; looked: Set<number> }> {
  const [kept, merges] = await Promise.all([causesOfBuild(ctx.db, build, CAUSES_MOST), mergesNow(ctx.db)])
  const rules = mergesOf(merges)
  const groups = overRuns(kept.map((one) => ({ ...one, signature: standsAs(one.signature, rules) })))
  const decided = await decisionsOf(
    ctx.db,
    groups.map(([{ signature }]) => signature),
  )
  const titles = new Map(environments.map(({ key, title }) => [key, title]))
  const good = new Set(
    results
      .filter(({ isGood }) => isGood)
      .map(({ caseKey, environment }) => `${caseKey}\n${titles.get(environment) ?? environment}`),
  )
  const causes = groups.map((found) => {
    const [{ signature, runId, cause }] = found
    const decision = decided.get(signature)
    return {
      signature,
      runId,
      title: cause.title,
      failures: found.reduce((sum, one) => sum + one.cause.failures, 0),
      decision: decision && standsFor(decision, build) ? decision.as : null,
      isGoneSince: found.every((one) =>
        one.cause.members.every(({ caseKey, environment }) => good.has(`${caseKey}\n${environment}`)),
      ),
    }
  })
  return { causes, looked: new Set(kept.map(({ runId }) => runId)) }
}

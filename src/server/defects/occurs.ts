/** Where a case fails and since when, from its newest results. */
import { occursWords, type TriedWith } from '@/core/triage'
import type { OccursViewModel } from '@/core/view-models'
import { triedByBuild } from '@/db/case-history'
import type { Conn } from '@/db/client'
import { buildOfRun, caseRunRow } from '@/db/runs'
import { listEnvironments, newestBuilds } from '@/db/workspace'
import type { Context } from '../context'
import { Problem } from '../http/problems'

const RESULTS_MOST = 500

/** @param own where it failed, as its run had it; others are called as they are now
 * @returns the results by environment and build, and what they come to in sentences. A day is one of UTC. */
export async function triedWith(
  db: Conn,
  caseKey: string,
  own: { key: string; title?: string },
  build: string,
): Promise<{ tried: TriedWith[]; words: string }> {
  const [rows, environments, builds] = await Promise.all([
    triedByBuild(db, caseKey, RESULTS_MOST),
    listEnvironments(db),
    newestBuilds(db),
  ])
  const titles = new Map(environments.map(({ key, title }) => [key, title]))
  if (own.title !== undefined) titles.set(own.key, own.title)
  const titleOf = (key: string) => titles.get(key) ?? key
  const tried = rows.map(({ firstAt, environment, ...row }) => ({
    ...row,
    environment: titleOf(environment),
    firstMs: Date.parse(firstAt),
  }))
  const known = builds.map(({ label, createdAt }) => ({ build: label, atMs: createdAt.getTime() }))
  const here = { environment: titleOf(own.key), build }
  const dateOf = (ms: number) => new Date(ms).toISOString().slice(0, 10)
  return { tried, words: occursWords(tried, here, dateOf, known) }
}

/** Of a case run, for who looks at it. @throws {Problem} NOT_FOUND */
export async function occursViewModel({ db }: Context, caseRunId: string): Promise<OccursViewModel> {
  const caseRun = await caseRunRow(db, caseRunId)
  const build = caseRun && (await buildOfRun(db, caseRun.runId))
  if (!caseRun || build === undefined) throw new Problem('NOT_FOUND', 'There is no such case run any more.')
  return { words: (await triedWith(db, caseRun.caseKey, { key: caseRun.environment }, build)).words }
}

/** What runs have frozen, kept between claims: it never changes, and may be megabytes. */
import { reachOf, type Reach } from '@/core/model'
import type { Db } from '@/db/client'
import { frozenRun as read } from '@/db/runs'
import { rulesOf } from '../recovery'
import type { CaseRunRow } from '@/db/claim'

type Row = NonNullable<Awaited<ReturnType<typeof read>>>
export type Frozen = Row & {
  /** Something comes before all of it, whose handoffs everybody takes. */
  hasBefore: boolean
  /** The routines, secrets and databases that a case run may ask for: an agent is given no others. */
  reach(caseRun: Pick<CaseRunRow, 'caseKey' | 'policies'>): Reach
}

/** Runs go on side by side in small numbers. */
const RUNS_KEPT = 6
const kept = new WeakMap<Db, Map<number, Promise<Frozen>>>()

/** @throws {Error} when there is no such run */
export function frozenRun(db: Db, runId: number): Promise<Frozen> {
  const runs = kept.get(db) ?? new Map<number, Promise<Frozen>>()
  kept.set(db, runs)
  const frozen = runs.get(runId) ?? load(db, runId)
  frozen.catch(() => runs.delete(runId))
  runs.delete(runId)
  runs.set(runId, frozen) // the one asked for last stands last
  if (runs.size > RUNS_KEPT) runs.delete(runs.keys().next().value!)
  return frozen
}

async function load(db: Db, runId: number): Promise<Frozen> {
  const found = await read(db, runId)
  if (!found) throw new Error(`there is no run ${runId}`)
  const known = new Map<string, Reach>()
  const reach: Frozen['reach'] = ({ caseKey, policies }) => {
    const name = [caseKey, ...policies.map(({ policy }) => policy)].join(' ')
    const answer =
      known.get(name) ??
      reachOf(found.cases[caseKey]!, rulesOf(policies, found.policies ?? {}), found.routines)
    known.set(name, answer)
    return answer
  }
  return { ...found, hasBefore: 'before:all' in found.cases, reach }
}

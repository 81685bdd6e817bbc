/** What runs have frozen, kept between claims: it never changes, and may be megabytes. */
import { referencesIn, type Step } from '@/core/model'
import type { Db } from '@/db/client'
import { frozenRun as read } from '@/db/runs'
import { allSteps } from '../definitions'

type Row = NonNullable<Awaited<ReturnType<typeof read>>>
export type Frozen = Row & {
  /** Something comes before all of it, whose handoffs everybody takes. */
  hasBefore: boolean
  /** Names of the secrets and databases a case may ask for. */
  asks(caseKey: string): Asks
}
type Asks = { secrets: string[]; databases: Set<string> }

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
  const known = new Map<string, Asks>()
  const asks = (caseKey: string) => {
    const answer = known.get(caseKey) ?? asksOf(found, caseKey)
    known.set(caseKey, answer)
    return answer
  }
  return { ...found, hasBefore: 'before:all' in found.cases, asks }
}

function asksOf({ cases, routines, policies }: Row, caseKey: string): Asks {
  const { steps, undo, roles = {} } = cases[caseKey]!
  const every: Step[] = allSteps([...steps, ...undo, ...Object.values(roles).flatMap((role) => role.steps), ...Object.values(routines).flatMap((routine) => [...routine.steps, ...routine.undo])])
  return {
    secrets: referencesIn([cases[caseKey], Object.values(routines), policies ?? {}]).flatMap((reference) => (reference.startsWith('secret.') ? [reference.slice('secret.'.length)] : [])),
    databases: new Set(every.flatMap((step) => (step.verb === 'query' ? [step.database] : []))),
  }
}

/** Running the failures of an ended run once more. */
import type { CaseRunRow } from '@/db/claim'
import { note } from '@/db/audit'
import { letBeginAll } from '@/db/endings'
import { notify } from '@/db/notify'
import { addRun, caseRunsWithOutcome, runSnapshot, runViewModel, type NewCaseRun } from '@/db/runs'
import { runSettings } from '@/db/run-settings'
import type { Context } from '../context'
import { Problem } from '../http/problems'
import { requireServed } from './served'

/** What a case run was laid out with: all that running it again takes over. */
const LAID_OUT = [
  'position',
  'caseKey',
  'title',
  'groups',
  'environment',
  'agent',
  'rowIndex',
  'rowCount',
  'row',
  'parameters',
  'exclusive',
  'priority',
  'limitMs',
  'estimateMs',
  'scopes',
  'after',
  'skips',
  'stops',
  'needs',
  'policies',
  'quarantined',
  'roles',
  'roleEnvironments',
  'laneMs',
] as const satisfies (keyof NewCaseRun)[]

const laidOut = (row: CaseRunRow): Pick<CaseRunRow, (typeof LAID_OUT)[number]> =>
  Object.fromEntries(LAID_OUT.map((name) => [name, row[name]])) as Pick<CaseRunRow, (typeof LAID_OUT)[number]>

/** Runs the failures of an ended run once more, from its own snapshot and with its own settings. */
export async function startAgain(ctx: Context, runId: number, who: string): Promise<number> {
  const [run, snapshot, settings] = await Promise.all([
    runViewModel(ctx.db, runId),
    runSnapshot(ctx.db, runId),
    runSettings(ctx.db, runId),
  ])
  if (!run || !snapshot || !settings) throw new Problem('NOT_FOUND')
  const failures = await caseRunsWithOutcome(ctx.db, runId, ['failed', 'errored'])
  if (failures.length === 0)
    throw new Problem('NOTHING_TO_RUN', 'Nothing failed in this run, so there is nothing to run again.')
  const isGuided = run.kind === 'guided'
  if (!isGuided)
    await requireServed(
      ctx,
      snapshot.environments.filter(({ key }) => failures.some((failure) => failure.environment === key)),
    )
  const items = failures.map((failure) => ({ ...laidOut(failure), ready: failure.after.length === 0 }))
  return ctx.db.transaction(async (tx) => {
    const id = await addRun(
      tx,
      {
        ...settings,
        title: run.title,
        suiteKey: run.suiteKey,
        ordered: items.some(({ ready }) => !ready),
        startedBy: who,
        snapshot,
        againOf: runId,
        ...(isGuided && { kind: 'guided' as const }),
      },
      items,
      ctx.now,
    )
    await letBeginAll(tx, id) // what passed then is not among them
    await note(tx, who, 'run.again', String(id), { of: runId, caseRuns: items.length })
    await notify(tx, 'work')
    await notify(tx, 'run', id)
    return id
  })
}

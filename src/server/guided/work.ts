/** Work that waits for people: the list of it, and who has what. */
import type { GuidedListViewModel } from '@/core/view-models'
import { note } from '@/db/audit'
import { assignTo, lockGuided, openGuidedWork } from '@/db/guided'
import { namesOfTesters } from '@/db/members'
import { notify } from '@/db/notify'
import type { Context } from '../context'
import { Problem } from '../http/problems'
import type { AssignRequest } from './bodies'

const LISTED_MOST = 1000

export async function guidedListViewModel(ctx: Context): Promise<GuidedListViewModel> {
  const [rows, people] = await Promise.all([openGuidedWork(ctx.db, LISTED_MOST + 1), namesOfTesters(ctx.db)])
  return {
    people,
    more: rows.length > LISTED_MOST,
    work: rows
      .slice(0, LISTED_MOST)
      .map(({ rowIndex, rowCount, environmentTitle, priority: _, savedAt, ...one }) => ({
        ...one,
        environment: environmentTitle,
        row: rowIndex === null ? null : { index: rowIndex, of: rowCount ?? rowIndex },
        savedAt: savedAt?.toISOString() ?? null,
      })),
  }
}

/** Gives open case runs to somebody, or to nobody.
 * @throws {Problem} NOT_FOUND: one of them is none of a guided run; BODY_INVALID: who may not; RUN_ENDED: one
 * is over; then nothing was changed */
export async function assignGuided(
  ctx: Context,
  { caseRuns, person }: AssignRequest,
  who: string,
): Promise<void> {
  if (person !== '' && !(await namesOfTesters(ctx.db)).includes(person))
    throw new Problem('BODY_INVALID', `${person} is nobody who may carry out cases here.`)
  await ctx.db.transaction(async (tx) => {
    const found = await lockGuided(tx, caseRuns)
    if (found.length < caseRuns.length)
      throw new Problem('NOT_FOUND', 'Some of these are no cases of a guided run.')
    if (found.some(({ state }) => state !== 'waiting'))
      throw new Problem('RUN_ENDED', 'Some of these are over already: look again at what is open.')
    await assignTo(tx, caseRuns, person)
    for (const runId of new Set(found.map((one) => one.runId))) {
      const ids = found.filter((one) => one.runId === runId).map(({ id }) => id)
      await note(tx, who, 'guided.assign', String(runId), { to: person, caseRuns: ids.length })
      await notify(tx, 'run', runId)
    }
  })
}

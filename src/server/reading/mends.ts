/** What the log of an attempt says is to be mended in its case. */
import { mendsIn, type Mend } from '@/core/execution'
import { eventsOf } from '@/db/logs'
import { attemptRow } from '@/db/runs'
import type { Context } from '../context'
import { Problem } from '../http/problems'

/** @throws {Problem} NOT_FOUND */
export async function mendsOfAttempt({ db }: Pick<Context, 'db'>, attemptId: string): Promise<Mend[]> {
  if (!(await attemptRow(db, attemptId))) throw new Problem('NOT_FOUND', 'There is no such attempt.')
  return mendsIn(await eventsOf(db, attemptId))
}

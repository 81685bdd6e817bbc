import { note } from '@/db/audit'
import { notify } from '@/db/notify'
import { repairRunNumbers as repair } from '@/db/run-numbers'
import { dropOldRehearsals, keepRehearsal } from '@/db/runs'
import type { Context } from '../context'
import { Problem } from '../http/problems'

/** Makes a rehearsal a run that counts in history. @throws {Problem} NOT_FOUND when it is none (any more) */
export async function keepRun(ctx: Context, id: number, who: string): Promise<void> {
  await ctx.db.transaction(async (tx) => {
    if (!(await keepRehearsal(tx, id)))
      throw new Problem('NOT_FOUND', 'There is no such rehearsal: it was kept already, or its day is over.')
    await note(tx, who, 'rehearsal.keep', String(id))
  })
  await notify(ctx.db, 'run', id)
}

/** @returns how many rehearsals were deleted because their day is over */
export const dropRehearsals = (ctx: Context): Promise<number> => dropOldRehearsals(ctx.db, ctx.now)

/** After a crash of PostgreSQL, numbers of runs go on where they were. */
export const repairRunNumbers = (ctx: Pick<Context, 'db'>): Promise<boolean> => repair(ctx.db)

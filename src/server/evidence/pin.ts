import { note } from '@/db/audit'
import { pinEvidence } from '@/db/evidence'
import { notify } from '@/db/notify'
import type { Context } from '../context'
import { Problem } from '../http/problems'

/** Keeps the evidence of an attempt whatever retention says, or lets it go with the others again. What was
 * deleted before does not come back. @throws {Problem} NOT_FOUND */
export async function pinAttempt(ctx: Context, id: string, pinned: boolean, who: string): Promise<void> {
  await ctx.db.transaction(async (tx) => {
    if (!(await pinEvidence(tx, id, pinned ? who : null)))
      throw new Problem('NOT_FOUND', 'There is no such attempt.')
    await note(tx, who, pinned ? 'attempt.pin' : 'attempt.unpin', id)
  })
  await notify(ctx.db, 'attempt', id)
}

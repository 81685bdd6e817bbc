/** How right the proposals of causes were: of the decisions that hold, what was proposed when they were
 * made. */
import { reliabilityOf } from '@/core/triage'
import type { ReliabilityViewModel } from '@/core/view-models'
import { newestProposed } from '@/db/decisions'
import type { Context } from '../context'

const LOOKED_MOST = 1000

export async function reliabilityViewModel({ db }: Pick<Context, 'db'>): Promise<ReliabilityViewModel> {
  const rows = await newestProposed(db, LOOKED_MOST)
  return { ...reliabilityOf(rows), since: rows.at(-1)?.decidedAt.toISOString() ?? null }
}

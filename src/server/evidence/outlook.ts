/** What is kept, what of it goes when, and what that frees. */
import type { RetentionOutlook } from '@/core/view-models'
import { evidenceSize } from '@/db/evidence'
import { evidenceByKind, goingByWeek } from '@/db/evidence-outlook'
import type { Context } from '../context'
import { quota } from './quota'
import { GRACE_MS, retention } from './retain'

const WEEKS_MOST = 12
const DAY_MS = 86_400_000

export async function retentionOutlook(ctx: Context): Promise<RetentionOutlook> {
  const days = await retention(ctx)
  const graceDays = GRACE_MS / DAY_MS
  const [size, kinds, weeks, gigabytes] = await Promise.all([
    evidenceSize(ctx.db),
    evidenceByKind(ctx.db),
    goingByWeek(ctx.db, days, ctx.now, { weeksMost: WEEKS_MOST, graceDays }),
    quota(ctx),
  ])
  const sumOf = (week: number | null) => {
    const { pieces, bytes } = weeks.find((one) => one.week === week) ?? { pieces: 0, bytes: 0 }
    return { pieces, bytes }
  }
  return {
    ...size,
    quotaGb: gigabytes,
    kinds,
    weeks: Array.from({ length: WEEKS_MOST }, (_, week) => sumOf(week)),
    later: sumOf(WEEKS_MOST),
    never: sumOf(null),
  }
}

/** Cases whose failures do not count for some days: what is known to be broken is still run and still
 * seen. */
import { note } from '@/db/audit'
import { notify } from '@/db/notify'
import { dropQuarantine, putQuarantine } from '@/db/recovery'
import type { Context } from '../context'
import { loadLibrary } from '../definitions'
import { Problem } from '../http/problems'
import { validator, type BodyOf } from '../http/validator'

const DAY_MS = 86_400_000
const DAYS_MOST = 90
export const quarantineBody = validator({
  type: 'object',
  additionalProperties: false,
  required: ['until', 'because'],
  properties: {
    until: { type: 'string', pattern: '^\\d{4}-\\d{2}-\\d{2}$' },
    because: { type: 'string', minLength: 3, maxLength: 300 },
  },
})
export type QuarantineRequest = BodyOf<typeof quarantineBody>

/** Counts from the next run on. @throws {Problem} NOT_FOUND, BODY_INVALID for a day that is past, or too far
 * away to be more than forgotten */
export async function quarantine(
  ctx: Context,
  caseKey: string,
  { until, because }: QuarantineRequest,
  who: string,
): Promise<void> {
  if (!(await loadLibrary(ctx)).case(caseKey))
    throw new Problem('NOT_FOUND', `There is no case “${caseKey}”.`)
  const end = new Date(`${until}T23:59:59Z`)
  const left = end.getTime() - Date.now()
  if (!(left > 0)) throw new Problem('BODY_INVALID', `${until} is over. Choose today or a later day.`)
  if (left > DAYS_MOST * DAY_MS)
    throw new Problem(
      'BODY_INVALID',
      `At most ${DAYS_MOST} days: what is broken for longer is better mended, or taken out of the suite.`,
    )
  await ctx.db.transaction(async (tx) => {
    await putQuarantine(tx, { caseKey, until: end, because, setBy: who })
    await note(tx, who, 'quarantine.put', caseKey, { until, because })
  })
  await notify(ctx.db, 'recovery')
}

/** @throws {Problem} NOT_FOUND */
export async function endQuarantine(ctx: Context, caseKey: string, who: string): Promise<void> {
  await ctx.db.transaction(async (tx) => {
    if (!(await dropQuarantine(tx, caseKey)))
      throw new Problem('NOT_FOUND', 'This case is not in quarantine.')
    await note(tx, who, 'quarantine.end', caseKey)
  })
  await notify(ctx.db, 'recovery')
}

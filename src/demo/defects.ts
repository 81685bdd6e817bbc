/** Defects the ferry line's people logged from the history, by the same way as in the interface. */
import { at } from '@/db/moment'
import { newestFailureOf } from '@/db/case-history'
import type { Context } from '@/server/context'
import { draftFrom, logDefect } from '@/server/defects'

const HALF_HOUR_MS = 1_800_000
const LOGGED = [
  { caseKey: 'foot-passenger-return', who: 'Wren Adeyemi', send: true },
  { caseKey: 'refund-over-400', who: 'Mirela Voss', send: true },
  { caseKey: 'date-day-first', who: 'Priya Castellan', send: true },
  { caseKey: 'count-on-board', who: 'Joss Okafor', send: false },
]

/** Logs one for the newest failure of each case above, half an hour after it. What is sent goes out when the
 * worker starts. */
export async function logDemoDefects(ctx: Context): Promise<void> {
  for (const { caseKey, who, send } of LOGGED) {
    const failure = await newestFailureOf(ctx.db, caseKey)
    if (!failure) continue
    const { title, steps, expected, actual, severity, evidence } = await draftFrom(ctx, failure.attemptId)
    const then = { ...ctx, now: at(new Date(failure.endedAt.getTime() + HALF_HOUR_MS)) }
    await logDefect(
      then,
      {
        title,
        steps,
        expected,
        actual,
        severity,
        attemptId: failure.attemptId,
        evidence: evidence.map(({ hash }) => hash),
        send,
      },
      who,
    )
  }
}

/** Roles of a joint case come to meeting points, and hand values to each other. */
import { lockHeld, type Hold } from '@/db/dispatch'
import { addArrival, addValues, jointState, noteWaiting } from '@/db/joint'
import type { Context } from '../context'
import { Problem } from '../http/problems'
import { liveHub } from '../live'

/** `arrives`: at a meeting point; `visit` counts from 1, as a loop may come by again. `gives`: values for the
 * other roles. `needs`: names of values it waits for. The answer may take `waitMs`. */
export type Meeting = {
  arrives?: { point: string; visit: number }
  gives?: Record<string, string>
  needs?: string[]
  waitMs?: number
}
/** `missing`: roles that have not come, names that nobody gave yet. `over`: another role did not pass, and
 * this one is to end. */
export type MeetingAnswer = { missing: string[]; values: Record<string, string>; over?: string }

/** Looks again at least this often: a note may be lost. */
const LOOK_AGAIN_MS = 2000

/** @throws {Problem} LEASE_LOST */
export async function meet(
  ctx: Context,
  hold: Hold,
  { arrives, gives = {}, needs = [], waitMs = 0 }: Meeting,
  signal: AbortSignal,
): Promise<MeetingAnswer> {
  const attempt = await ctx.db.transaction(async (tx) => {
    const held = await lockHeld(tx, hold)
    if (!held) return undefined
    if (arrives) await addArrival(tx, held, arrives)
    await addValues(tx, held, gives)
    return held
  })
  if (!attempt) throw new Problem('LEASE_LOST')
  ctx.notifier.send('joint', attempt.caseRunId)
  const until = Date.now() + waitMs
  for (;;) {
    const answer = await standing(ctx, attempt, arrives, needs)
    if (answer.over !== undefined || answer.missing.length === 0 || waitMs === 0 || signal.aborted)
      return answer
    const words = arrives
      ? `waits for ${answer.missing.join(' and ')} at “${arrives.point.replaceAll('-', ' ')}”`
      : `waits for ${answer.missing.join(' and ')} from another role`
    // Said anew at each look: the log of the step itself comes a moment later, and would stand there instead.
    await noteWaiting(ctx.db, attempt.id, words)
    ctx.notifier.send('run', attempt.runId)
    const left = until - Date.now()
    if (left <= 0) return answer
    await liveHub(ctx.connection.url).next('joint', Math.min(left, LOOK_AGAIN_MS), signal, attempt.caseRunId)
  }
}

async function standing(
  ctx: Context,
  attempt: Parameters<typeof jointState>[1],
  arrives: Meeting['arrives'],
  needs: readonly string[],
): Promise<MeetingAnswer> {
  const state = await jointState(ctx.db, attempt, arrives)
  if (!state) throw new Problem('LEASE_LOST')
  const missing = [
    ...(arrives ? state.roles.filter((role) => !state.arrived.includes(role)) : []),
    ...needs.filter((name) => !(name in state.values)),
  ]
  return { missing, values: state.values, ...(state.told !== null && { over: state.told }) }
}

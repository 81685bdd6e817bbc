/** Keeps a forecast of the end of each run that goes on, which learns as results come in. */
import { finishOf } from '@/core/rota'
import { listAgents } from '@/db/agents'
import { openPieces, putFinish, runningNow } from '@/db/finish'
import type { Context } from '../context'

/** Computes anew when each running run will be done, as if nothing else ran. @returns how many there are */
export async function forecastFinishes(ctx: Context): Promise<number> {
  const runs = await runningNow(ctx.db)
  if (runs.length === 0) return 0
  const agents = (await listAgents(ctx.db, ctx.leaseMs)).filter(
    ({ alive, draining, paused }) => alive && !draining && !paused,
  )
  for (const { id, retries, pool } of runs) {
    const { open, ended, now } = await openPieces(ctx.db, id)
    const seats = agents
      .filter((agent) => pool === null || agent.pool === pool)
      .map(({ name, pool: of, seats: count, environments }) => ({
        name,
        pool: of,
        seats: count,
        environments,
      }))
    if (seats.length === 0) continue
    const { p50Ms, p90Ms, pace } = finishOf(open, ended, seats, retries)
    const at = (ms: number) => new Date(now.getTime() + ms).toISOString()
    await putFinish(ctx.db, id, {
      at: now.toISOString(),
      p50: at(p50Ms),
      p90: at(p90Ms),
      pace,
      left: open.length,
    })
    ctx.notifier.send('run', id)
  }
  return runs.length
}

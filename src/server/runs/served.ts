import { seatsByEnvironment } from '@/db/agents'
import type { Context } from '../context'
import { Problem } from '../http/problems'

/** @throws {Problem} ENVIRONMENT_UNSERVED */
export async function requireServed(
  ctx: Context,
  environments: { key: string; title: string }[],
): Promise<void> {
  const seats = await seatsByEnvironment(ctx.db, ctx.leaseMs)
  const unserved = environments.filter(({ key }) => !seats.get(key))
  if (unserved.length > 0) {
    throw new Problem(
      'ENVIRONMENT_UNSERVED',
      `No live agent serves ${unserved.map(({ title }) => title).join(', ')}. Start an agent that ` +
        'does, or leave it out.',
      { environments: unserved.map(({ key }) => key) },
    )
  }
}

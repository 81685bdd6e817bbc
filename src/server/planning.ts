/** Plans beside the main thread: a run of 20,000 case runs takes seconds to plan, and nobody else who asks is
 * to wait for that. */
import type { Outlook, OutlookBasis, OutlookRotation } from '@/core/rota'
import type { Context } from './context'

/** The largest run takes seconds; a plan that has not come by then comes no more. */
const PLAN_LIMIT_MS = 120_000

/** What `outlook` of the core says.
 * @throws {Problem} BUSY, TOOK_TOO_LONG, TOOK_TOO_MUCH */
export const planned = (
  ctx: Pick<Context, 'work'>,
  rotation: OutlookRotation,
  basis: OutlookBasis,
): Promise<Outlook> => ctx.work.run('outlook', { rotation, basis }, { limitMs: PLAN_LIMIT_MS })

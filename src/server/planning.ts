/** Plans in a worker thread: planning 20,000 case runs takes seconds, and other requests must not wait for
 * it. */
import type { Outlook, OutlookBasis, OutlookRotation } from '@/core/rota'
import type { Context } from './context'

/** The largest run takes seconds; a plan that takes longer than this is given up. */
const PLAN_LIMIT_MS = 120_000

/** What `outlook` of the core says.
 * @throws {Problem} BUSY, TOOK_TOO_LONG, TOOK_TOO_MUCH */
export const planned = (
  ctx: Pick<Context, 'work'>,
  rotation: OutlookRotation,
  basis: OutlookBasis,
): Promise<Outlook> => ctx.work.run('outlook', { rotation, basis }, { limitMs: PLAN_LIMIT_MS })

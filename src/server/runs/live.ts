/** What a live session may be: a person steers one browser, and holds its seat. */
import type { FlatItem } from '@/core/model'
import type { Context } from '../context'
import type { Loaded } from '../definitions'
import { Problem } from '../http/problems'
import { poolForLive } from './live-limits'
import type { StartRequest } from './request'

/** @returns the pool it has to be in, where pools have limits
 * @throws {Problem} BODY_INVALID, BUSY */
export async function requireLive(
  ctx: Pick<Context, 'db' | 'leaseMs'>,
  { rehearsal = false, environments }: StartRequest,
  items: readonly FlatItem[],
  library: Pick<Loaded, 'case'>,
): Promise<string | undefined> {
  const [item] = items
  const isJoint = item && Object.keys(library.case(item.caseKey)?.roles ?? {}).length > 0
  if (!rehearsal || environments.length !== 1 || items.length !== 1 || isJoint)
    throw new Problem(
      'BODY_INVALID',
      'A live session is a rehearsal of one case with one row and no roles, on one environment.',
    )
  return poolForLive(ctx, environments[0]!)
}

/** As what a start stands in the audit trail. */
export function startedAs({ live = false, rehearsal = false, guided }: StartRequest): string {
  if (guided) return 'guided.start'
  if (live) return 'session.start'
  return rehearsal ? 'rehearsal.start' : 'run.start'
}

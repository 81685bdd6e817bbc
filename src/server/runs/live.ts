/** What a live session may be: a person steers one browser, and holds its seat. */
import type { FlatItem } from '@/core/model'
import { countLiveRuns } from '@/db/runs'
import type { Context } from '../context'
import type { Loaded } from '../definitions'
import { Problem } from '../http/problems'
import type { StartRequest } from './request'

/** Sessions at once: each holds a seat that runs may want. */
const LIVE_MOST = 12

/** @throws {Problem} BODY_INVALID, BUSY */
export async function requireLive(
  { db }: Pick<Context, 'db'>,
  { rehearsal = false, environments }: StartRequest,
  items: readonly FlatItem[],
  library: Pick<Loaded, 'case'>,
): Promise<void> {
  const [item] = items
  const isJoint = item && Object.keys(library.case(item.caseKey)?.roles ?? {}).length > 0
  if (!rehearsal || environments.length !== 1 || items.length !== 1 || isJoint)
    throw new Problem(
      'BODY_INVALID',
      'A live session is a rehearsal of one case with one row and no roles, on one environment.',
    )
  if ((await countLiveRuns(db)) >= LIVE_MOST)
    throw new Problem(
      'BUSY',
      `${LIVE_MOST} live sessions go on, which is all there may be at once. Wait until one is over.`,
    )
}

/** As what a start stands in the audit trail. */
export function startedAs({ live = false, rehearsal = false, guided }: StartRequest): string {
  if (guided) return 'guided.start'
  if (live) return 'session.start'
  return rehearsal ? 'rehearsal.start' : 'run.start'
}

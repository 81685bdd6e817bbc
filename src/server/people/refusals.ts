/** Who was refused what, for an auditor: bounded, as asking again costs who asks nothing. */
import { currentActor } from '@/db/actor'
import { noteEvent } from '@/db/audit'
import type { Conn } from '@/db/client'

const WINDOW_MS = 60_000
/** Lines of one person within a window; the next window says how many more there were. */
const LINES_MOST = 20
/** Who is counted at the same time. */
const COUNTED_MOST = 1000

type Counted = { until: number; lines: number; more: number }
const counted = new Map<string, Counted>()

/** How many refusals were left out before this one; `undefined`: leave this one out too. */
export function leftOut(key: string, now: number): number | undefined {
  const last = counted.get(key)
  if (last && now < last.until) {
    if (last.lines < LINES_MOST) {
      last.lines++
      return 0
    }
    last.more++
    return undefined
  }
  counted.delete(key)
  if (counted.size >= COUNTED_MOST) counted.delete(counted.keys().next().value!)
  counted.set(key, { until: now + WINDOW_MS, lines: 1, more: 0 })
  return last?.more ?? 0
}

/** @param who as people read it @param detail why, and as what they asked */
export async function noteRefusal(
  db: Conn,
  who: string,
  request: Pick<Request, 'method' | 'url'>,
  detail: { why: string; role: string },
): Promise<void> {
  const before = leftOut(currentActor().id, Date.now())
  if (before === undefined) return
  const subject = `${request.method} ${new URL(request.url).pathname}`.slice(0, 200)
  await noteEvent(db, who, 'access.refuse', subject, { ...detail, ...(before > 0 && { before }) })
}

/** Makes what the readers of long logs show first, once those are in one piece. */
import { LINES_PAGE } from '@/core/view-models'
import { keepOpening, logsWithoutOpening } from '@/db/logs'
import { attemptContext, type AttemptContext } from '../attempt-context'
import type { Context } from '../context'
import { askLogOf } from './ask'
import { VERSION, type Opening } from './opening'
import { LONG_LOG } from './pack'

const AT_ONCE = 20
const ALL = { fold: false, only: null } as const

/** Makes openings of long logs that have none. @returns how many */
export async function makeOpenings(ctx: Context): Promise<number> {
  const ids = await logsWithoutOpening(ctx.db, { events: LONG_LOG, version: VERSION, most: AT_ONCE })
  let made = 0
  for (const id of ids) {
    // one log that cannot be read keeps nobody from the others; it is read whole when it is opened
    const isMade = await makeOpening(ctx, id).then(
      () => true,
      () => false,
    )
    if (isMade) made++
  }
  return made
}

async function makeOpening(ctx: Context, id: string): Promise<void> {
  const of = await attemptContext(ctx, id)
  const head = await askLogOf(ctx, of, { ask: 'head' })
  const line = head.start === null ? undefined : await lineOf(ctx, of, head.start)
  const opening: Opening = { head, ...(line && { line }) }
  await keepOpening(ctx.db, id, of.attempt.dropped, VERSION, opening)
}

type Line = NonNullable<Opening['line']>

async function lineOf(ctx: Context, of: AttemptContext, path: string): Promise<Line | undefined> {
  const answer = await askLogOf(ctx, of, { ask: 'line', path, ...ALL })
  if (!answer) return undefined
  const from = Math.floor(answer.index / LINES_PAGE) * LINES_PAGE
  const around = await askLogOf(ctx, of, { ask: 'window', from, count: LINES_PAGE, find: '', ...ALL })
  return { path, answer, around }
}

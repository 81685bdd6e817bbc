/** What is on the screens of attempts that somebody looks at. */
import { dropLiveScreens, keepLiveScreen, liveScreen, watchAttempts } from '@/db/screens'
import type { Hold } from '@/db/dispatch'
import type { Context } from '../context'
import { Problem } from '../http/problems'
import { validator } from '../http/validator'

/** Somebody looks for so long after each time they say so. */
const WATCHED_MS = 8000
const KINDS = ['image/jpeg', 'image/png']

export const watchBody = validator({
  type: 'object',
  additionalProperties: false,
  required: ['attempts'],
  properties: {
    attempts: {
      type: 'array',
      maxItems: 200,
      items: { type: 'string', pattern: '^[0-9a-f]{8}-[0-9a-f]{4}-[0-9a-f]{4}-[0-9a-f]{4}-[0-9a-f]{12}$' },
    },
  },
})

/** Asks the agents of these attempts for what is on their screens, for the next seconds. */
export const watchScreens = (ctx: Context, attempts: readonly string[]): Promise<void> =>
  watchAttempts(ctx.db, attempts, WATCHED_MS)

/** @throws {Problem} BODY_INVALID for what is no picture, LEASE_LOST when it is not held */
export async function keepScreen(ctx: Context, hold: Hold, mime: string, bytes: Uint8Array): Promise<void> {
  if (!KINDS.includes(mime)) throw new Problem('BODY_INVALID', `A screen is ${KINDS.join(' or ')}.`)
  if (!(await keepLiveScreen(ctx.db, hold, mime, bytes))) throw new Problem('LEASE_LOST')
  ctx.notifier.send('screen', hold.attemptId)
}

/** Forgets the screens of what has ended. */
export const dropScreens = (ctx: Pick<Context, 'db'>): Promise<void> => dropLiveScreens(ctx.db)

/** @throws {Problem} NOT_FOUND when there is none */
export async function serveScreen(ctx: Context, attemptId: string): Promise<Response> {
  const found = await liveScreen(ctx.db, attemptId)
  if (!found) throw new Problem('NOT_FOUND', 'Nothing of this screen is here.')
  return new Response(new Uint8Array(found.bytes), {
    headers: { 'content-type': found.mime, 'cache-control': 'no-store', 'x-content-type-options': 'nosniff' },
  })
}

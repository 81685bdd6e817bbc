/** The tracker, over HTTP (docs/tracker.md): takes a defect, gives it a number. */
import { storable } from '@/core/model'
import { fieldsOf, stateFrom, stateTo } from '@/core/tracker'
import { note } from '@/db/audit'
import type { DefectRow } from '@/db/defects'
import { notify } from '@/db/notify'
import { dropSetting, putSetting, setting } from '@/db/settings'
import { ask } from '@/node/outgoing'
import type { Context } from '../context'
import { Problem } from '../http/problems'
import { validator, type BodyOf } from '../http/validator'
import { outgoingPolicy, requireOutgoing } from '../outgoing'
import { openColumn, sealColumn } from '../sealing'
import { bodyOf } from './body'
import { factsOf, trackerMapping } from './mapping'

const NAME = 'tracker'
const ANSWER_MS = 5000
const ANSWER_BYTES_MOST = 100_000

export type TrackerAnswer = { number: string; state: string; url: string }
/** The tracker did not take the defect; the message is for a person. */
export class TrackerProblem extends Error {}

export const trackerBody = validator({
  type: 'object',
  additionalProperties: false,
  required: ['url'],
  properties: {
    url: { type: 'string', pattern: '^https?://\\S+$', maxLength: 500 },
    token: { type: 'string', maxLength: 500 },
  },
})
type Kept = { url: string; token?: string }

export const trackerLine = async (ctx: Pick<Context, 'db'>): Promise<{ url: string } | null> => {
  const kept = await setting<Kept>(ctx.db, NAME)
  return kept ? { url: kept.url } : null
}

/** Keeps where the tracker is, its token sealed, when something answers there. Without a token the one that
 * was kept for the same address stays.
 * @throws {Problem} OUTGOING_REFUSED, TRACKER_DOWN; then nothing was changed */
export async function setTracker(
  ctx: Context,
  { url: written, token }: BodyOf<typeof trackerBody>,
  who: string,
): Promise<void> {
  const url = written.replace(/\/+$/, '')
  if (!URL.canParse(url)) throw new Problem('BODY_INVALID', `“${url}” is no address.`)
  await requireOutgoing(url)
  const before = await setting<Kept>(ctx.db, NAME)
  const kept: Kept = {
    url,
    ...(token
      ? { token: sealColumn(token) }
      : before?.url === url && before.token !== undefined && { token: before.token }),
  }
  try {
    const { status } = await askTracker(kept, 'GET')
    if (status >= 400) throw new TrackerProblem(`it answers ${status}`)
  } catch (error) {
    throw new Problem(
      'TRACKER_DOWN',
      `${url}/api/issues: ${error instanceof TrackerProblem ? error.message : whyNot(error)}. Nothing was changed.`,
    )
  }
  await ctx.db.transaction(async (tx) => {
    await putSetting(tx, NAME, kept)
    await note(tx, who, 'tracker.set', url)
  })
  await notify(ctx.db, 'settings')
}

/** @throws {Problem} NOT_FOUND */
export async function removeTracker(ctx: Context, who: string): Promise<void> {
  await ctx.db.transaction(async (tx) => {
    if (!(await dropSetting(tx, NAME))) throw new Problem('NOT_FOUND')
    await note(tx, who, 'tracker.remove', NAME)
  })
  await notify(ctx.db, 'settings')
}

/** Sends a defect. Sending the same one again yields the same number: it carries a key of ours.
 * @throws {TrackerProblem} */
export async function sendToTracker(ctx: Pick<Context, 'db'>, defect: DefectRow): Promise<TrackerAnswer> {
  const kept = await setting<Kept>(ctx.db, NAME)
  if (!kept) throw new TrackerProblem('No tracker is set up.')
  const mapping = await trackerMapping(ctx)
  const answer = await post(kept, '', {
    ...fieldsOf(await factsOf(ctx, defect), mapping),
    key: `oak-defect-${defect.id}-${defect.createdAt.getTime()}`,
    title: defect.title,
    body: bodyOf(defect),
  })
  const { state, ...told } = readAnswer(answer)
  return { ...told, state: stateFrom(state, mapping) }
}

/** Says something of a defect there. Saying the same once more adds nothing: it carries a key of ours.
 * @throws {TrackerProblem} */
export async function sayAtTracker(
  ctx: Pick<Context, 'db'>,
  number: string,
  message: { key: string; text: string; state?: 'open' | 'closed' },
): Promise<void> {
  const kept = await setting<Kept>(ctx.db, NAME)
  if (!kept) throw new TrackerProblem('No tracker is set up.')
  const { state, ...words } = message
  const mapping = await trackerMapping(ctx)
  await post(kept, `/${encodeURIComponent(number)}/comments`, {
    ...words,
    ...(state && { state: stateTo(state, mapping) }),
  })
}

/** @returns the text of the answer @throws {TrackerProblem} */
async function post(kept: Kept, path: string, body: object): Promise<string> {
  const answer = await askTracker(kept, 'POST', body, path).catch((error: unknown) => {
    throw new TrackerProblem(`The tracker does not answer (${whyNot(error)}).`)
  })
  if (answer.status < 200 || answer.status >= 300)
    throw new TrackerProblem(`The tracker answers ${answer.status}.`)
  return answer.text
}

/** Where a defect stands there. @returns absent: the tracker does not tell
 * @throws {TrackerProblem} it is not there just now */
export async function stateAtTracker(ctx: Pick<Context, 'db'>, number: string): Promise<string | undefined> {
  const kept = await setting<Kept>(ctx.db, NAME)
  if (!kept) throw new TrackerProblem('No tracker is set up.')
  const answer = await askTracker(kept, 'GET', undefined, `/${encodeURIComponent(number)}`).catch(
    (error: unknown) => {
      throw new TrackerProblem(`The tracker does not answer (${whyNot(error)}).`)
    },
  )
  if (answer.status === 410) return 'deleted there'
  if (answer.status >= 500 || answer.status === 429)
    throw new TrackerProblem(`The tracker answers ${answer.status}.`)
  if (answer.status !== 200) return undefined
  try {
    const told = readAnswer(answer.text)
    if (told.number !== number || told.state === '') return undefined
    return stateFrom(told.state, await trackerMapping(ctx))
  } catch {
    return undefined
  }
}

const askTracker = ({ url, token }: Kept, method: 'GET' | 'POST', body?: object, path = '') =>
  ask(
    `${url}/api/issues${path}`,
    {
      method,
      limitMs: ANSWER_MS,
      mostBytes: ANSWER_BYTES_MOST,
      headers: {
        accept: 'application/json',
        ...(body && { 'content-type': 'application/json' }),
        ...(token !== undefined && { authorization: `Bearer ${openColumn(token)}` }),
      },
      ...(body && { body: JSON.stringify(body) }),
    },
    outgoingPolicy(),
  )

const whyNot = (error: unknown): string =>
  (error as Error).name === 'TimeoutError'
    ? `nothing within ${ANSWER_MS / 1000} s`
    : `no connection: ${(error as NodeJS.ErrnoException).code ?? (error as Error).message}`

/** @throws {TrackerProblem} for an answer without a number */
function readAnswer(text: string): TrackerAnswer {
  try {
    const { number, state = '', url = '' } = JSON.parse(text) as Partial<Record<string, unknown>>
    if ((typeof number === 'string' || typeof number === 'number') && String(number) !== '')
      return {
        number: storable(String(number).slice(0, 100)),
        state: storable(String(state).slice(0, 100)),
        url: addressOnly(url),
      }
  } catch {
    // told below
  }
  throw new TrackerProblem('The tracker’s answer has no number.')
}

/** A link of others is shown only when it leads to a page. */
const addressOnly = (url: unknown): string =>
  typeof url === 'string' && url.length <= 500 && /^https?:\/\//.test(url) ? url : ''

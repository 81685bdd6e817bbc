/** The tracker, over HTTP (docs/tracker.md): takes a defect, gives it a number. */
import { storable } from '@/core/model'
import { fieldsOf, personTo, stateFrom, stateTo, type TrackerMapping } from '@/core/tracker'
import { TRACKER_DELETED } from '@/core/view-models'
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
const ATTACH_MS = 60_000
const ANSWER_BYTES_MOST = 500_000
const FOUND_MOST = 20

export type TrackerAnswer = { number: string; state: string; url: string }
/** With its title, as the tracker has it; its state in our words. */
export type TrackerIssue = TrackerAnswer & { title: string }
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
      `${url}/api/issues: ${error instanceof TrackerProblem ? error.message : whyNot(error)}. Nothing ` +
        'was changed.',
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
  const kept = await keptTracker(ctx)
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

/** Sends fields as they are. @returns what the tracker says, in its own words @throws {TrackerProblem} */
export const sendExample = async (ctx: Pick<Context, 'db'>, fields: object): Promise<TrackerAnswer> =>
  readAnswer(await post(await keptTracker(ctx), '', fields))

/** Closes an example by a word. @returns where it stands then, in the tracker's own word, where it tells
 * @throws {TrackerProblem} */
export async function closeExample(
  ctx: Pick<Context, 'db'>,
  number: string,
  { key, state }: { key: string; state: string },
): Promise<string | undefined> {
  const path = `/${encodeURIComponent(number)}`
  await post(await keptTracker(ctx), `${path}/comments`, { key, text: 'It was an example.', state })
  return readAnswer(await get(ctx, path)).state || undefined
}

/** Says something of a defect there. Saying the same once more adds nothing: it carries a key of ours.
 * @throws {TrackerProblem} */
export async function sayAtTracker(
  ctx: Pick<Context, 'db'>,
  number: string,
  message: { key: string; text: string; state?: 'open' | 'closed'; assignee?: string },
): Promise<void> {
  const kept = await keptTracker(ctx)
  const { state, assignee, ...words } = message
  const mapping = await trackerMapping(ctx)
  await post(kept, `/${encodeURIComponent(number)}/comments`, {
    ...words,
    ...(state && { state: stateTo(state, mapping) }),
    ...(assignee !== undefined && { assignee: personTo(assignee, mapping) }),
  })
}

/** @returns the text of the answer @throws {TrackerProblem} */
async function post(kept: Kept, path: string, body: object): Promise<string> {
  const answer = await askTracker(
    kept,
    'POST',
    { mime: JSON_MIME, content: JSON.stringify(body) },
    path,
  ).catch(noAnswer)
  if (answer.status < 200 || answer.status >= 300) throw new TrackerProblem(refusalOf(answer))
  return answer.text
}

/** With what the tracker says is wrong with what was sent, in a field that is usual for that. */
function refusalOf({ status, text }: { status: number; text: string }): string {
  const said = status < 500 ? saidIn(text) : ''
  return said === '' ? `The tracker answers ${status}.` : `The tracker answers ${status}: ${said}`
}

function saidIn(text: string): string {
  try {
    const answer = JSON.parse(text) as Partial<Record<string, unknown>> | null
    const said = ['error', 'message', 'detail', 'title'].map((name) => answer?.[name])
    const words = said.find((one): one is string => typeof one === 'string' && one.trim() !== '') ?? ''
    return storable(words.trim().slice(0, REFUSAL_CHARS))
  } catch {
    return ''
  }
}
const REFUSAL_CHARS = 300

/** What the tracker has of a defect by now; absent is what it does not tell. */
export type StandingThere = { state?: string; title?: string }

/** Where a defect stands there, and what it is called.
 * @throws {TrackerProblem} it is not there just now */
export async function standingAtTracker(ctx: Pick<Context, 'db'>, number: string): Promise<StandingThere> {
  const kept = await keptTracker(ctx)
  const answer = await askTracker(kept, 'GET', undefined, `/${encodeURIComponent(number)}`).catch(noAnswer)
  if (answer.status === 410) return { state: TRACKER_DELETED }
  if (answer.status >= 500 || answer.status === 429)
    throw new TrackerProblem(`The tracker answers ${answer.status}.`)
  if (answer.status !== 200) return {}
  try {
    const { number: of, state } = readAnswer(answer.text)
    if (of !== number || state === '') return {}
    const { title, ...issue } = readIssue(answer.text, await trackerMapping(ctx))
    return { state: issue.state, ...(title !== '' && { title }) }
  } catch {
    return {}
  }
}

/** What the tracker would tell of a defect that we closed or opened there. */
export async function stateThere(ctx: Pick<Context, 'db'>, state: 'open' | 'closed'): Promise<string> {
  const mapping = await trackerMapping(ctx)
  return stateFrom(stateTo(state, mapping), mapping)
}

/** Issues there that have these words, as far as the tracker searches.
 * @throws {TrackerProblem} */
export async function searchTracker(ctx: Pick<Context, 'db'>, words: string): Promise<TrackerIssue[]> {
  const text = await get(ctx, `?${new URLSearchParams({ q: words })}`)
  const mapping = await trackerMapping(ctx)
  try {
    const found = (JSON.parse(text) as unknown[]).slice(0, FOUND_MOST)
    return found.map((one) => readIssue(JSON.stringify(one), mapping))
  } catch {
    throw new TrackerProblem('The tracker’s answer is no list of issues.')
  }
}

/** @throws {TrackerProblem} also where it has none with that number */
export async function issueAtTracker(ctx: Pick<Context, 'db'>, number: string): Promise<TrackerIssue> {
  return readIssue(await get(ctx, `/${encodeURIComponent(number)}`), await trackerMapping(ctx))
}

/** Sends a piece of evidence; the same name again is the same piece.
 * @returns `false`: the tracker does not take such pieces
 * @throws {TrackerProblem} it may take it later */
export async function attachAtTracker(
  ctx: Pick<Context, 'db'>,
  number: string,
  { name, mime, content }: { name: string; mime: string; content: Uint8Array },
): Promise<boolean> {
  const path = `/${encodeURIComponent(number)}/attachments/${encodeURIComponent(name)}`
  const { status } = await askTracker(await keptTracker(ctx), 'PUT', { mime, content }, path).catch(noAnswer)
  if (TAKES_NONE.includes(status)) return false
  if (status < 200 || status >= 300) throw new TrackerProblem(`The tracker answers ${status}.`)
  return true
}
const TAKES_NONE = [400, 403, 404, 405, 410, 413, 415, 422, 501]

async function get(ctx: Pick<Context, 'db'>, path: string): Promise<string> {
  const { status, text } = await askTracker(await keptTracker(ctx), 'GET', undefined, path).catch(noAnswer)
  if (status !== 200) throw new TrackerProblem(`The tracker answers ${status}.`)
  return text
}

/** @throws {TrackerProblem} */
async function keptTracker({ db }: Pick<Context, 'db'>): Promise<Kept> {
  const kept = await setting<Kept>(db, NAME)
  if (!kept) throw new TrackerProblem('No tracker is set up.')
  return kept
}

const noAnswer = (error: unknown): never => {
  throw new TrackerProblem(`The tracker does not answer (${whyNot(error)}).`)
}

type Sent = { mime: string; content: string | Uint8Array }
const JSON_MIME = 'application/json'

const askTracker = ({ url, token }: Kept, method: 'GET' | 'POST' | 'PUT', sent?: Sent, path = '') =>
  ask(
    `${url}/api/issues${path}`,
    {
      method,
      limitMs: method === 'PUT' ? ATTACH_MS : ANSWER_MS,
      mostBytes: ANSWER_BYTES_MOST,
      headers: {
        accept: JSON_MIME,
        ...(sent && { 'content-type': sent.mime }),
        ...(token !== undefined && { authorization: `Bearer ${openColumn(token)}` }),
      },
      ...(sent && { body: sent.content }),
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

/** @throws {TrackerProblem} */
function readIssue(text: string, mapping: TrackerMapping): TrackerIssue {
  const { state, ...told } = readAnswer(text)
  const { title = '' } = JSON.parse(text) as Partial<Record<string, unknown>>
  return { ...told, title: storable(String(title).slice(0, 200)), state: stateFrom(state, mapping) }
}

/** A link of others is shown only when it leads to a page. */
const addressOnly = (url: unknown): string =>
  typeof url === 'string' && url.length <= 500 && /^https?:\/\//.test(url) ? url : ''

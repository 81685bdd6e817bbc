/** Telling others what happens to runs: CloudEvents 1.0 in JSON, signed as Standard Webhooks says, tried
 * again until they are taken. */
import {
  addHook,
  dropHook,
  HOOK_EVENTS,
  hookById,
  listHooks,
  noteAnswer,
  type HookEvent,
  type HookRow,
} from '@/db/hooks'
import { note } from '@/db/audit'
import { notify } from '@/db/notify'
import { newlyFailing } from '@/db/case-history'
import { runViewModel } from '@/db/runs'
import { ask } from '@/node/outgoing'
import type { Context } from '../context'
import { Problem } from '../http/problems'
import { readUuid } from '../http/route'
import { validator } from '../http/validator'
import { newWebhookSecret, signatureOf } from '../http/signed'
import { outgoingPolicy, requireOutgoing } from '../outgoing'
import { openColumn, sealColumn } from '../sealing'

export const hookBody = validator({
  type: 'object',
  additionalProperties: false,
  required: ['address', 'events'],
  properties: {
    address: { type: 'string', pattern: '^https?://[^\\s]+$', maxLength: 500 },
    events: { type: 'array', minItems: 1, uniqueItems: true, items: { enum: [...HOOK_EVENTS] } },
  },
})

/** @returns the secret that signs what is sent; it is shown this once */
export async function makeHook(
  ctx: Context,
  { address, events }: { address: string; events: HookEvent[] },
  who: string,
): Promise<{ id: string; secret: string }> {
  if (!URL.canParse(address)) throw new Problem('BODY_INVALID', `“${address}” is no address.`)
  await requireOutgoing(address)
  const secret = newWebhookSecret()
  const id = await ctx.db.transaction(async (tx) => {
    const id = await addHook(tx, { address, events, secret: sealColumn(secret), createdBy: who })
    await note(tx, who, 'hook.make', address, { events })
    return id
  })
  await notify(ctx.db, 'settings')
  return { id, secret }
}

/** @throws {Problem} NOT_FOUND */
export async function removeHook(ctx: Context, id: string, who: string): Promise<void> {
  await ctx.db.transaction(async (tx) => {
    const address = await dropHook(tx, readUuid(id))
    if (address === undefined) throw new Problem('NOT_FOUND')
    await note(tx, who, 'hook.remove', address)
  })
  await notify(ctx.db, 'settings')
}

export const hookLines = async (ctx: Pick<Context, 'db'>) =>
  (await listHooks(ctx.db)).map(({ id, address, events, createdBy, lastAt, lastAnswer }) => ({
    id,
    address,
    events,
    createdBy,
    lastAt: lastAt?.toISOString() ?? null,
    lastAnswer,
  }))

export type Told = { hook: string; event: HookEvent; run: number; id: string; at: string }
const ANSWER_LIMIT_MS = 10_000
const ANSWER_MOST_BYTES = 100_000

/** The job: sends one event to one address. @throws when it was not taken, so that the queue tries again
 * later */
export async function tellHook(ctx: Context, told: Told, source: string): Promise<void> {
  const hook = await hookById(ctx.db, told.hook)
  if (!hook) return // removed meanwhile
  const data = await dataOf(ctx, told)
  if (!data) return
  const answer = await send(
    hook,
    told,
    JSON.stringify({
      specversion: '1.0',
      id: told.id,
      source: `${source}/runs`,
      type: `oak-rotation.${told.event}`,
      subject: String(told.run),
      time: new Date(told.at).toISOString(),
      datacontenttype: 'application/json',
      data: { ...data, address: `${source}/runs/${told.run}` },
    }),
  )
  await noteAnswer(ctx.db, hook.id, answer)
  await notify(ctx.db, 'settings')
  if (!/^2/.test(answer)) throw new Error(`${hook.address}: ${answer}`)
}

async function send({ address, secret }: HookRow, { id }: Told, body: string): Promise<string> {
  const timestamp = String(Math.floor(Date.now() / 1000))
  try {
    const { status } = await ask(
      address,
      {
        method: 'POST',
        body,
        limitMs: ANSWER_LIMIT_MS,
        mostBytes: ANSWER_MOST_BYTES,
        headers: {
          'content-type': 'application/cloudevents+json; charset=utf-8',
          'webhook-id': id,
          'webhook-timestamp': timestamp,
          'webhook-signature': `v1,${signatureOf(openColumn(secret), id, timestamp, body)}`,
        },
      },
      outgoingPolicy(),
    )
    return String(status)
  } catch (error) {
    return `no answer: ${(error as Error).message}`
  }
}

/** `undefined` when there is nothing to tell (any more). */
async function dataOf(ctx: Context, { event, run }: Told): Promise<object | undefined> {
  const found = await runViewModel(ctx.db, run)
  if (!found) return undefined
  const { title, build, state, counts, rotationKey, startedBy, forecast } = found
  const facts = { run, title, build, rotation: rotationKey, startedBy }
  if (event === 'run.started')
    return {
      ...facts,
      forecast: forecast && { p50Ms: forecast.p50Ms, p90Ms: forecast.p90Ms, caseRuns: forecast.caseRuns },
    }
  if (event === 'run.ended') return { ...facts, state, counts, why: found.endedWhy }
  const { previousTitle, cases } = await newlyFailing(ctx.db, run)
  return cases.length > 0
    ? {
        ...facts,
        since: previousTitle,
        cases: cases.map(({ caseKey, title: name, environments, ofEnvironments }) => ({
          case: caseKey,
          title: name,
          environments,
          of: ofEnvironments,
        })),
      }
    : undefined
}

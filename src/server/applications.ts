/** Applications under test. An address is tried before it is kept, so that a wrong one is told to the person
 * who writes it, and not by a run at night. */
import { addressAt, addressProblem, hasBuild, probeProblem, type Application } from '@/core/model'
import { note } from '@/db/audit'
import { notify } from '@/db/notify'
import { dropApplication, listApplications, listBuilds, putApplication } from '@/db/workspace'
import { ask, OutgoingRefused } from '@/node/outgoing'
import type { Context } from './context'
import { enqueueReadingAll } from './definitions'
import { Problem } from './http/problems'
import { validator, type BodyOf } from './http/validator'
import { outgoingPolicy } from './outgoing'

const ANSWER_MS = 5000
const ANSWER_BYTES_MOST = 1_000_000
const REDIRECTS_MOST = 5
const KEY = /^[a-z][a-z0-9-]{0,39}$/

const address = { type: 'string', minLength: 1, maxLength: 500 } as const
export const applicationBody = validator({
  type: 'object',
  additionalProperties: false,
  required: ['title', 'address'],
  properties: {
    title: { type: 'string', minLength: 1, maxLength: 80 },
    address,
    stages: {
      type: 'object',
      maxProperties: 20,
      propertyNames: { pattern: '^[a-z0-9][a-z0-9-]{0,39}$' },
      additionalProperties: address,
    },
    probe: {
      type: ['object', 'null'],
      additionalProperties: false,
      required: ['path'],
      properties: {
        path: { type: 'string', pattern: '^/', maxLength: 300 },
        status: { type: 'integer', minimum: 100, maximum: 599 },
        text: { type: 'string', minLength: 1, maxLength: 300 },
      },
    },
    owner: { type: 'string', maxLength: 80 },
    mail: { type: 'string', maxLength: 200, pattern: '^$|^[^@\\s,]+@[^@\\s,]+$' },
    untried: { type: 'boolean' },
  },
})
export type ApplicationRequest = BodyOf<typeof applicationBody>

/** Adds an application, or changes it. @param request `untried`: it is kept although it does not answer here,
 * as agents may reach what the server does not
 * @throws {Problem} BODY_INVALID, OUTGOING_REFUSED, APPLICATION_DOWN; then nothing was changed */
export async function setApplication(
  ctx: Context,
  key: string,
  request: ApplicationRequest,
  who: string,
): Promise<void> {
  if (!KEY.test(key))
    throw new Problem(
      'BODY_INVALID',
      'The key of an application is small letters, digits and dashes, beginning with a letter.',
    )
  const { untried = false, title, stages = {}, probe = null, owner = '', mail = '' } = request
  const application: Application = {
    key,
    title,
    address: withoutSlash(request.address),
    stages: Object.fromEntries(Object.entries(stages).map(([name, one]) => [name, withoutSlash(one)])),
    probe: probe as Application['probe'],
    owner,
    mail,
  }
  for (const one of [application.address, ...Object.values(application.stages)]) {
    const problem = addressProblem(one)
    if (problem) throw new Problem('BODY_INVALID', problem)
  }
  if (!untried) await requireUp(ctx, application)
  await ctx.db.transaction(async (tx) => {
    await putApplication(tx, application)
    await note(tx, who, 'application.set', key, { address: application.address, stages, owner, untried })
    await enqueueReadingAll(tx)
  })
  await notify(ctx.db, 'settings')
  await notify(ctx.db, 'definitions')
}

const withoutSlash = (text: string): string => text.trim().replace(/\/+$/, '')

/** @throws {Problem} NOT_FOUND */
export async function removeApplication(ctx: Context, key: string, who: string): Promise<void> {
  await ctx.db.transaction(async (tx) => {
    if (!(await dropApplication(tx, key))) throw new Problem('NOT_FOUND')
    await note(tx, who, 'application.remove', key)
    await enqueueReadingAll(tx)
  })
  await notify(ctx.db, 'settings')
  await notify(ctx.db, 'definitions')
}

/** Each address of an application, and whether it answers there now: `problem` as the end of a sentence. */
export type Tried = { stage: string; address: string; problem?: string }

/** Asks an application at each of its addresses. Those with a build are asked for the newest one.
 * @throws {Problem} NOT_FOUND */
export async function tryApplication(ctx: Context, key: string): Promise<Tried[]> {
  const application = (await listApplications(ctx.db)).find((one) => one.key === key)
  if (!application) throw new Problem('NOT_FOUND')
  return triedAt(ctx, application)
}

async function requireUp(ctx: Context, application: Application): Promise<void> {
  const down = (await triedAt(ctx, application)).filter(({ problem }) => problem !== undefined)
  if (down.length > 0)
    throw new Problem(
      'APPLICATION_DOWN',
      `${down.map((one) => `${one.address}: ${one.problem}`).join('; ')}. Nothing was changed; it can ` +
        'be kept all the same, when only agents reach it.',
      down,
    )
}

async function triedAt(ctx: Context, application: Application): Promise<Tried[]> {
  const build = (await listBuilds(ctx.db))[0]?.label
  const places: { stage: string; address: string }[] = [
    { stage: '', address: application.address },
    ...Object.entries(application.stages).map(([stage, one]) => ({ stage, address: one })),
  ]
  return Promise.all(
    places.map(async ({ stage, address: written }): Promise<Tried> => {
      if (hasBuild(written) && build === undefined)
        return { stage, address: written, problem: 'no build is known yet; add one first' }
      const found = addressAt({ address: written, stages: {} }, { build: build ?? '' })
      const problem = await problemAt(found, application.probe)
      return { stage, address: found, ...(problem !== undefined && { problem }) }
    }),
  )
}

/** @throws {Problem} OUTGOING_REFUSED */
async function problemAt(base: string, probe: Application['probe']): Promise<string | undefined> {
  const { path = '/', ...expected } = probe ?? {}
  try {
    const answer = await ask(
      `${base}${path}`,
      {
        method: 'GET',
        limitMs: ANSWER_MS,
        mostBytes: ANSWER_BYTES_MOST,
        redirects: REDIRECTS_MOST,
      },
      outgoingPolicy(),
    )
    return probeProblem(answer, expected)
  } catch (error) {
    if (error instanceof OutgoingRefused) throw new Problem('OUTGOING_REFUSED', `${error.message}.`)
    const { name, code, message } = error as NodeJS.ErrnoException
    if (name === 'TimeoutError') return `nothing within ${ANSWER_MS / 1000} s`
    return code === undefined ? message : `no connection (${code})`
  }
}

/** The workspace's environments: what they are, what else they are called, and their order. */
import type { Environment } from '@/core/model'
import { note } from '@/db/audit'
import { notify } from '@/db/notify'
import { replaceEnvironments } from '@/db/workspace'
import type { Context } from './context'
import { enqueueReadingAll } from './definitions'
import { Problem } from './http/problems'
import { validatorOf } from './http/validator'

const text = { type: 'string', minLength: 1, maxLength: 80 } as const
const KEY = { type: 'string', pattern: '^[a-z0-9][a-z0-9-]*$', maxLength: 80 } as const
const pixels = { type: 'integer', minimum: 100, maximum: 10_000 } as const
export const environmentsBody = validatorOf<Environment[]>()({
  type: 'array',
  minItems: 1,
  maxItems: 200,
  items: {
    type: 'object',
    additionalProperties: false,
    required: ['key', 'title', 'browser', 'os', 'width', 'height', 'locale', 'simulated'],
    properties: {
      key: KEY,
      title: text,
      browser: text,
      version: text,
      os: text,
      width: pixels,
      height: pixels,
      locale: { type: 'string', pattern: '^[A-Za-z]{2,3}(-[A-Za-z0-9]{2,8})*$' },
      kind: { enum: ['desktop', 'emulated', 'device'] },
      aliases: { type: 'array', items: KEY, maxItems: 20, uniqueItems: true },
      simulated: { type: 'boolean' },
      userAgent: { type: 'string', minLength: 1, maxLength: 400 },
      timeZone: { type: 'string', minLength: 1, maxLength: 60 },
      colours: { enum: ['light', 'dark'] },
      location: {
        type: 'object',
        additionalProperties: false,
        required: ['latitude', 'longitude'],
        properties: {
          latitude: { type: 'number', minimum: -90, maximum: 90 },
          longitude: { type: 'number', minimum: -180, maximum: 180 },
        },
      },
      camera: { type: 'boolean' },
    },
  },
})

/** Runs keep the environments they started with; rotations find theirs by key or alias at each start.
 * @throws {Problem} BODY_INVALID when two go by the same name, or a time zone is none */
export async function putEnvironments(ctx: Context, environments: Environment[], who: string): Promise<void> {
  const names = environments.flatMap(({ key, aliases = [] }) => [key, ...aliases])
  const twice = names.find((name, i) => names.indexOf(name) !== i)
  if (twice !== undefined)
    throw new Problem('BODY_INVALID', `Two environments go by the name “${twice}”. Nothing was changed.`)
  for (const { title, timeZone } of environments)
    if (timeZone !== undefined && !isTimeZone(timeZone))
      throw new Problem(
        'BODY_INVALID',
        `${title}: there is no time zone “${timeZone}”; one is written like Europe/Lisbon. Nothing was ` +
          'changed.',
      )
  await ctx.db.transaction(async (tx) => {
    await replaceEnvironments(
      tx,
      environments.map((facts, position) => ({
        key: facts.key,
        title: facts.title,
        position,
        simulated: facts.simulated,
        facts,
      })),
    )
    await enqueueReadingAll(tx)
    await note(tx, who, 'environments.put', 'environments', { keys: environments.map(({ key }) => key) })
    await notify(tx, 'fleet')
    await notify(tx, 'definitions')
  })
}

function isTimeZone(name: string): boolean {
  try {
    new Intl.DateTimeFormat('en', { timeZone: name })
    return true
  } catch {
    return false
  }
}

/** Values that cases use and nobody sees again: sealed at rest, opened only for the agent that carries out a
 * case that names them, within the applications and pools they are for. */
import { note } from '@/db/audit'
import { notify } from '@/db/notify'
import { dropSecret, putSecret, sealedSecrets } from '@/db/secrets'
import type { Context } from './context'
import { enqueueReadingAll } from './definitions'
import { Problem } from './http/problems'
import { seal, unseal } from './sealing'
import { validator, type BodyOf } from './http/validator'

/** Shorter ones would be found, and masked, in every other word of a log. */
const SECRET_CHARS_LEAST = 4

export const SECRET_NAME = /^[A-Za-z][A-Za-z0-9_]{0,59}$/
const names = { type: 'array', maxItems: 50, items: { type: 'string', minLength: 1, maxLength: 60 } } as const
export const secretBody = validator({
  type: 'object',
  additionalProperties: false,
  required: ['value'],
  properties: {
    value: { type: 'string', minLength: SECRET_CHARS_LEAST, maxLength: 2000 },
    applications: names,
    pools: names,
  },
})
export type SecretRequest = BodyOf<typeof secretBody>

/** @param request where it may be used: what is left out stays as it was, anywhere at first
 * @throws {Problem} BODY_INVALID for a name that no value could refer to */
export async function setSecret(
  ctx: Context,
  name: string,
  { value, applications, pools }: SecretRequest,
  who: string,
): Promise<void> {
  if (!SECRET_NAME.test(name))
    throw new Problem(
      'BODY_INVALID',
      'The name of a secret is letters, digits and _, beginning with a letter.',
    )
  const scope = { ...(applications && { applications }), ...(pools && { pools }) }
  await ctx.db.transaction(async (tx) => {
    await putSecret(tx, { name, sealed: seal(value), setBy: who, ...scope })
    await note(tx, who, 'secret.set', name, scope)
    await enqueueReadingAll(tx)
  })
  await notify(ctx.db, 'settings')
}

/** @throws {Problem} NOT_FOUND */
export async function removeSecret(ctx: Context, name: string, who: string): Promise<void> {
  await ctx.db.transaction(async (tx) => {
    if (!(await dropSecret(tx, name))) throw new Problem('NOT_FOUND')
    await note(tx, who, 'secret.remove', name)
    await enqueueReadingAll(tx)
  })
  await notify(ctx.db, 'settings')
}

/** The values of those names that an agent may have for what it carries out. One that is not there, is for
 * others, or cannot be opened is left out, and named by the step that wants it.
 * @param touched applications of the case; `undefined`: any */
export async function openSecrets(
  ctx: Pick<Context, 'db'>,
  names: string[],
  { agentId, touched }: { agentId: string; touched: readonly string[] | undefined },
): Promise<Record<string, string>> {
  const found = await sealedSecrets(ctx.db, names, agentId)
  const isFor = (applications: string[]) =>
    applications.length === 0 || (touched?.every((one) => applications.includes(one)) ?? false)
  return Object.fromEntries(
    found.flatMap(({ name, sealed, applications }) => {
      if (!isFor(applications)) return []
      try {
        return [[name, unseal(sealed)] as const]
      } catch {
        return []
      }
    }),
  )
}

/** Values that cases use and nobody sees again: sealed at rest, opened only for the agent that carries out a case that names them. */
import { createCipheriv, createDecipheriv, createHash, randomBytes } from 'node:crypto'
import { note } from '@/db/defects'
import { notify } from '@/db/notify'
import { dropSecret, putSecret, sealedSecrets } from '@/db/secrets'
import { secret as installationSecret, type Context } from './context'
import { Problem } from './http/problems'
import { validator } from './http/route'

const IV_BYTES = 12
const TAG_BYTES = 16
/** Shorter ones would be found, and masked, in every other word of a log. */
const SECRET_CHARS_LEAST = 4

const key = () => createHash('sha256').update(`secrets ${installationSecret()}`).digest()

export function seal(text: string): string {
  const iv = randomBytes(IV_BYTES)
  const cipher = createCipheriv('aes-256-gcm', key(), iv)
  return Buffer.concat([iv, cipher.update(text, 'utf8'), cipher.final(), cipher.getAuthTag()]).toString('base64')
}

/** @throws when it was sealed under another installation's secret */
export function unseal(sealed: string): string {
  const bytes = Buffer.from(sealed, 'base64')
  const decipher = createDecipheriv('aes-256-gcm', key(), bytes.subarray(0, IV_BYTES))
  decipher.setAuthTag(bytes.subarray(-TAG_BYTES))
  return decipher.update(bytes.subarray(IV_BYTES, -TAG_BYTES), undefined, 'utf8') + decipher.final('utf8')
}

export const SECRET_NAME = /^[A-Za-z][A-Za-z0-9_]{0,59}$/
export const secretBody = validator<{ value: string }>({ type: 'object', additionalProperties: false, required: ['value'], properties: { value: { type: 'string', minLength: SECRET_CHARS_LEAST, maxLength: 2000 } } })

/** @throws {Problem} BODY_INVALID for a name that no value could refer to */
export async function setSecret(ctx: Context, name: string, value: string, who: string): Promise<void> {
  if (!SECRET_NAME.test(name)) throw new Problem('BODY_INVALID', 'The name of a secret is letters, digits and _, beginning with a letter.')
  await putSecret(ctx.db, { name, sealed: seal(value), setBy: who })
  await note(ctx.db, who, 'secret.set', name)
  await notify(ctx.db, 'settings')
}

/** @throws {Problem} NOT_FOUND */
export async function removeSecret(ctx: Context, name: string, who: string): Promise<void> {
  if (!(await dropSecret(ctx.db, name))) throw new Problem('NOT_FOUND')
  await note(ctx.db, who, 'secret.remove', name)
  await notify(ctx.db, 'settings')
}

/** The values of these names; one that is not there, or cannot be opened, is left out and named by the step that wants it. */
export async function openSecrets(ctx: Pick<Context, 'db'>, names: string[]): Promise<Record<string, string>> {
  return Object.fromEntries((await sealedSecrets(ctx.db, names)).flatMap(({ name, sealed }) => {
    try {
      return [[name, unseal(sealed)] as const]
    } catch {
      return []
    }
  }))
}

/** Values of others that have to be opened again are sealed at rest: AES-256-GCM under the installation's
 * secret. */
import { createCipheriv, createDecipheriv, createHash, randomBytes } from 'node:crypto'
import { secret as installationSecret } from './context'

const IV_BYTES = 12
const TAG_BYTES = 16
/** Begins what is sealed in columns that once held plain text. */
const SEALED = 'sealed:'

const key = () => createHash('sha256').update(`secrets ${installationSecret()}`).digest()

export function seal(text: string): string {
  const iv = randomBytes(IV_BYTES)
  const cipher = createCipheriv('aes-256-gcm', key(), iv)
  return Buffer.concat([iv, cipher.update(text, 'utf8'), cipher.final(), cipher.getAuthTag()]).toString(
    'base64',
  )
}

/** @throws when it was sealed under another installation's secret, or tampered with */
export function unseal(sealed: string): string {
  const bytes = Buffer.from(sealed, 'base64')
  const decipher = createDecipheriv('aes-256-gcm', key(), bytes.subarray(0, IV_BYTES))
  decipher.setAuthTag(bytes.subarray(-TAG_BYTES))
  return decipher.update(bytes.subarray(IV_BYTES, -TAG_BYTES), undefined, 'utf8') + decipher.final('utf8')
}

/** For a column: sealed, and known to be. */
export const sealColumn = (text: string): string => `${SEALED}${seal(text)}`
export const isSealedColumn = (stored: string): boolean => stored.startsWith(SEALED)
/** What a column holds, sealed or (from before) plain. @throws as `unseal` */
export const openColumn = (stored: string): string =>
  isSealedColumn(stored) ? unseal(stored.slice(SEALED.length)) : stored

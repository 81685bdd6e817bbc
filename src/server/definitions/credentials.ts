/** What a private repository asks for: a token for an address of http(s), a private key for one of SSH. Kept
 * sealed, given to git alone, and never shown again. */
import { randomBytes } from 'node:crypto'
import { rm, writeFile } from 'node:fs/promises'
import { join } from 'node:path'
import type { RepositoryRow } from '@/db/definitions'
import { Problem } from '../http/problems'
import type { TypeOf } from '../http/schema-type'
import { openColumn, sealColumn } from '../sealing'

/** In one line or in several, as `ssh-keygen` writes it; it ends with its last line. */
const PRIVATE_KEY = /^-----BEGIN [A-Z ]*PRIVATE KEY-----\n[\s\S]+\n-----END [A-Z ]*PRIVATE KEY-----\n$/

export const CREDENTIALS = {
  type: 'object',
  required: ['kind'],
  discriminator: { propertyName: 'kind' },
  oneOf: [
    {
      type: 'object',
      additionalProperties: false,
      required: ['kind'],
      properties: { kind: { const: 'none' } },
    },
    {
      type: 'object',
      additionalProperties: false,
      required: ['kind', 'user', 'token'],
      properties: {
        kind: { const: 'token' },
        user: { type: 'string', maxLength: 200, pattern: '^[^:\\s]*$' },
        token: { type: 'string', minLength: 1, maxLength: 4000, pattern: '^[!-~]+$' },
      },
    },
    {
      type: 'object',
      additionalProperties: false,
      required: ['kind', 'key'],
      properties: { kind: { const: 'key' }, key: { type: 'string', minLength: 1, maxLength: 20_000 } },
    },
  ],
} as const
type CredentialsRequest = TypeOf<typeof CREDENTIALS>
export type Credentials = Exclude<CredentialsRequest, { kind: 'none' }>

/** @returns what goes into the column; `null` for none. @throws {Problem} BODY_INVALID where they do not fit
 * the address */
export function sealedCredentials(request: CredentialsRequest, location: string): string | null {
  if (request.kind === 'none') return null
  const isHttp = /^https?:/.test(location)
  if (request.kind === 'token' && !isHttp)
    throw new Problem('BODY_INVALID', 'A token is for an address that begins with https: or http:.')
  if (request.kind === 'key' && !/^(ssh:|git@)/.test(location))
    throw new Problem('BODY_INVALID', 'A private key is for an address that begins with ssh: or git@.')
  if (request.kind === 'token') return sealColumn(JSON.stringify(request))
  const key = `${request.key.replaceAll('\r', '').trim()}\n`
  if (!PRIVATE_KEY.test(key))
    throw new Problem(
      'BODY_INVALID',
      'This is no private key: it begins with a line “-----BEGIN … PRIVATE KEY-----”, and ends with ' +
        'one like it.',
    )
  return sealColumn(JSON.stringify({ kind: 'key', key } satisfies Credentials))
}

export const credentialsOf = ({
  credentials,
}: Pick<RepositoryRow, 'credentials'>): Credentials | undefined =>
  credentials === null ? undefined : (JSON.parse(openColumn(credentials)) as Credentials)

/** Git reads configuration from these variables; unlike an argument, nobody else on the machine sees them. */
export function environmentOf(config: Record<string, string>): Record<string, string> {
  const entries = Object.entries(config)
  return {
    GIT_CONFIG_COUNT: String(entries.length),
    ...Object.fromEntries(
      entries.flatMap(([name, value], i) => [
        [`GIT_CONFIG_KEY_${i}`, name],
        [`GIT_CONFIG_VALUE_${i}`, value],
      ]),
    ),
  }
}

/** The token goes to the server of the repository alone. */
export function headerConfig(location: string, { user, token }: Extract<Credentials, { kind: 'token' }>) {
  const basic = Buffer.from(`${user}:${token}`).toString('base64')
  return { [`http.${new URL(location).origin}/.extraHeader`]: `Authorization: Basic ${basic}` }
}

const quoted = (path: string) => `'${path.replaceAll("'", "'\\''")}'`

/** The host is taken at its word the first time, and has to have the same key from then on.
 * @param folder of our own, where it is remembered
 * @param keyFile as `placeKey` gives it */
export const sshCommand = (folder: string, keyFile?: string): string =>
  [
    'ssh -oBatchMode=yes -oStrictHostKeyChecking=accept-new',
    `-oUserKnownHostsFile=${quoted(join(folder, 'known_hosts'))}`,
    ...(keyFile === undefined ? [] : [`-oIdentitiesOnly=yes -i ${quoted(keyFile)}`]),
  ].join(' ')

/** Writes the key where only `ssh` finds it; each time under a name of its own, for others may be at work
 * with theirs. */
export async function placeKey(folder: string, key: string): Promise<string> {
  const file = join(folder, `key-${randomBytes(6).toString('hex')}`)
  await writeFile(file, key, { mode: 0o600 })
  return file
}

export const removeKey = (file: string): Promise<void> => rm(file, { force: true })

/** A second factor: codes by time (TOTP, RFC 6238), and codes on paper for when the device is lost. */
import { createHash, randomBytes } from 'node:crypto'
import { Secret, TOTP } from 'otpauth'
import { toString as qrToString } from 'qrcode'
import { note } from '@/db/audit'
import {
  beginSecondFactor,
  confirmSecondFactor,
  dropSecondFactor,
  secondFactorOf,
  takeRecoveryCode,
  takeStep,
} from '@/db/members'
import type { Context } from '../context'
import { Problem } from '../http/problems'
import { seal, unseal } from '../sealing'
import type { Person } from './access'
import { requirePassword } from './password'

const PERIOD_S = 30
/** A clock may be so many steps off. */
const WINDOW = 1
const RECOVERY_CODES = 10
const SECRET_BYTES = 20

const totpOf = (secret: string, username: string) =>
  new TOTP({
    issuer: 'Oak Rotation',
    label: username,
    secret: Secret.fromBase32(secret),
    period: PERIOD_S,
    digits: 6,
  })

/** @returns the time step a code belongs to; `undefined` when it is none of now */
function stepOf(secret: string, code: string): number | undefined {
  if (!/^\d{6}$/.test(code)) return undefined
  const delta = totpOf(secret, '').validate({ token: code, window: WINDOW })
  return delta === null ? undefined : Math.floor(Date.now() / 1000 / PERIOD_S) + delta
}

const hashOf = (code: string) =>
  createHash('sha256')
    .update(`recovery ${code.toLowerCase().replace(/[^a-z0-9]/g, '')}`)
    .digest('hex')

/** Makes a secret, which counts once a code confirms it.
 * @returns it as text and as a picture, for the device. @throws {Problem} NAME_TAKEN when there is a second
 * factor already */
export async function startSecondFactor(
  ctx: Pick<Context, 'db'>,
  { id, username }: Person,
): Promise<{ secret: string; picture: string }> {
  const secret = new Secret({ size: SECRET_BYTES }).base32
  if (!(await beginSecondFactor(ctx.db, id, seal(secret))))
    throw new Problem('NAME_TAKEN', 'You have a second factor already; take it off first.')
  const picture = await qrToString(totpOf(secret, username).toString(), { type: 'svg', margin: 1 })
  return { secret, picture: `data:image/svg+xml;base64,${Buffer.from(picture).toString('base64')}` }
}

/** @returns codes for when the device is lost, shown this once. @throws {Problem} CODE_WRONG */
export async function confirmWithCode(
  ctx: Pick<Context, 'db'>,
  person: Person,
  code: string,
): Promise<string[]> {
  const factor = await secondFactorOf(ctx.db, person.id)
  const step = factor && !factor.confirmedAt ? stepOf(unseal(factor.sealedSecret), code) : undefined
  if (step === undefined) throw new Problem('CODE_WRONG')
  const codes = Array.from({ length: RECOVERY_CODES }, () =>
    randomBytes(5)
      .toString('hex')
      .replace(/^(.{5})/, '$1-'),
  )
  await ctx.db.transaction(async (tx) => {
    await confirmSecondFactor(tx, person.id, step, codes.map(hashOf))
    await note(tx, person.name, 'second-factor.set', person.username)
  })
  return codes
}

/** @throws {Problem} PASSWORD_WRONG, NOT_FOUND */
export async function removeSecondFactor(
  ctx: Pick<Context, 'db'>,
  person: Person,
  password: string,
): Promise<void> {
  await requirePassword(ctx, person.id, password)
  await ctx.db.transaction(async (tx) => {
    if (!(await dropSecondFactor(tx, person.id))) throw new Problem('NOT_FOUND', 'There is no second factor.')
    await note(tx, person.name, 'second-factor.remove', person.username)
  })
}

export type FactorAnswer = 'good' | 'missing' | 'wrong'

/** Whether a person may pass: without a second factor always, else by a code, which is good once. */
export async function checkSecondFactor(
  ctx: Pick<Context, 'db'>,
  { id: userId, name, username }: Pick<Person, 'id' | 'name' | 'username'>,
  code: string | undefined,
): Promise<FactorAnswer> {
  const factor = await secondFactorOf(ctx.db, userId)
  if (!factor?.confirmedAt) return 'good'
  const given = code?.trim() ?? ''
  if (given === '') return 'missing'
  const step = stepOf(unseal(factor.sealedSecret), given)
  if (step !== undefined) return (await takeStep(ctx.db, userId, step)) ? 'good' : 'wrong'
  return await ctx.db.transaction(async (tx) => {
    if (!(await takeRecoveryCode(tx, userId, hashOf(given)))) return 'wrong'
    await note(tx, name, 'second-factor.recovery-code', username)
    return 'good'
  })
}

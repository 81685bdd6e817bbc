/** Reads a rotation or a policy from its text without validating it, for benches: the problems of the text
 * come from the server a moment later. */
import { parse } from 'yaml'
import { normalisePolicy } from './policies'
import { normaliseRotation } from './rotations'
import type { RecoveryPolicy } from './types'
import type { Rotation } from './rotation-types'

type Raw = Record<string, unknown>

/** @returns `undefined` for a text that is no rotation in its outline */
export const readRotation = (source: string): Rotation | undefined =>
  readLoosely(source, (raw) => {
    if (
      typeof raw.rotation !== 'string' ||
      typeof raw.title !== 'string' ||
      !Array.isArray(raw.what) ||
      typeof raw.where !== 'object' ||
      raw.where === null
    )
      return undefined
    const read = normaliseRotation(raw, () => 1)
    return Number.isFinite(read.limitMs) &&
      Number.isFinite(read.how.settleMs) &&
      Number.isFinite(read.how.betweenMs)
      ? read
      : undefined
  })

/** @returns `undefined` for a text that is no policy in its outline */
export const readPolicy = (source: string): RecoveryPolicy | undefined =>
  readLoosely(source, (raw) => {
    const isRule = (rule: unknown) => typeof (rule as Raw | null)?.rule === 'string'
    return typeof raw.policy === 'string' &&
      typeof raw.title === 'string' &&
      Array.isArray(raw.rules) &&
      raw.rules.every(isRule)
      ? normalisePolicy(raw, () => 1)
      : undefined
  })

function readLoosely<T>(source: string, read: (raw: Raw) => T | undefined): T | undefined {
  try {
    const raw = parse(source) as Raw | null
    return raw === null || typeof raw !== 'object' ? undefined : read(raw)
  } catch {
    return undefined
  }
}

/** A rotation out of its text at once, for who edits it: not validated. What is said of the text by who validates it comes a moment later. */
import { parse } from 'yaml'
import { normaliseRotation } from './rotations'
import type { Rotation } from './types'

/** @returns `undefined` for a text that is no rotation in its outline */
export function readRotation(source: string): Rotation | undefined {
  try {
    const raw = parse(source) as Record<string, unknown> | null
    if (typeof raw?.rotation !== 'string' || typeof raw.title !== 'string' || !Array.isArray(raw.what) || typeof raw.where !== 'object' || raw.where === null) return undefined
    const read = normaliseRotation(raw, () => 1)
    return Number.isFinite(read.limitMs) && Number.isFinite(read.how.settleMs) && Number.isFinite(read.how.betweenMs) ? read : undefined
  } catch {
    return undefined
  }
}

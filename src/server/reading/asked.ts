/** What addresses of the log say: which lines, from where, how many. */
import type { Narrowing } from '@/core/execution'
import { Problem } from '../http/problems'

const COUNT_MOST = 500
const FIND_MOST = 200
const NUMBER = /^\d{1,9}$/

/** @throws {Problem} BODY_INVALID */
export function numberIn(asked: URLSearchParams, name: string, otherwise: number): number {
  const text = asked.get(name)
  if (text === null) return otherwise
  if (!NUMBER.test(text))
    throw new Problem('BODY_INVALID', `“${name}” is not a number: ${text.slice(0, 40)}.`)
  return Number(text)
}

/** `fold=true`: only lines that lead to failures; `only`: of a kind, or `verb:click`; `byPage=true`: ordered
 * by the pages they were done on. */
export const narrowingIn = (asked: URLSearchParams): Narrowing => ({
  fold: asked.get('fold') === 'true',
  only: asked.get('only'),
  byPage: asked.get('byPage') === 'true',
})

/** `from` and `count`, which is 500 at the most. */
export const windowIn = (asked: URLSearchParams): { from: number; count: number } => ({
  from: numberIn(asked, 'from', 0),
  count: Math.min(COUNT_MOST, numberIn(asked, 'count', 200)),
})

export const findIn = (asked: URLSearchParams): string => (asked.get('find') ?? '').slice(0, FIND_MOST)

/** What failures are made of: values that differ from one to the next. */
import type { GroupedFailure } from '..'
import type { Random } from '../../execution/random'

export type Cause = { cause: string; say(next: Random, i: number): Omit<GroupedFailure, 'id'> }

export const pick = <T>(next: Random, ...from: T[]): T => from[Math.floor(next() * from.length)]!
export const int = (next: Random, from: number, to: number): number =>
  from + Math.floor(next() * (to - from + 1))
export const hex = (next: Random, length: number) =>
  Array.from({ length }, () => int(next, 0, 15).toString(16)).join('')
export const uuid = (next: Random) => [8, 4, 4, 4, 12].map((length) => hex(next, length)).join('-')
export const ref = (next: Random) => `FS-${int(next, 10_000, 99_999)}`
export const amount = (next: Random) => {
  const [whole, cents] = [int(next, 1, 1999), String(int(next, 0, 99)).padStart(2, '0')]
  return pick(
    next,
    `${whole}.${cents}`,
    `${whole},${cents}`,
    whole > 999 ? `1.${String(whole).slice(1)},${cents}` : `${whole}.${cents}`,
  )
}
export const time = (next: Random) =>
  `${String(int(next, 0, 23)).padStart(2, '0')}:${String(int(next, 0, 59)).padStart(2, '0')}`
export const date = (next: Random) =>
  pick(
    next,
    `2026-11-${int(next, 10, 29)}`,
    `${int(next, 1, 28)}/11/2026`,
    `${int(next, 1, 28)}. November 2026`,
    `Nov ${int(next, 1, 28)}, 2026`,
  )
export const port = (next: Random) =>
  pick(next, 'Skerrow', 'Quillhaven', 'Tolva', 'Maren Quay', 'Little Aske')
export const host = (next: Random) =>
  pick(
    next,
    `10.0.${int(next, 0, 255)}.${int(next, 1, 254)}:${int(next, 1024, 65_000)}`,
    `desk-${int(next, 1, 9)}.ferry.invalid:${int(next, 1024, 65_000)}`,
    `localhost:${int(next, 1024, 65_000)}`,
  )
export const logged = (next: Random, text: string) =>
  pick(
    next,
    text,
    `2026-11-${int(next, 10, 29)} ${time(next)}:${int(next, 10, 59)},${int(next, 100, 999)} ERROR ` +
      `[worker-${int(next, 1, 16)}] ${text}`,
    `\u001b[31m${text}\u001b[0m`,
  )

export const check = (cause: string, say: (next: Random) => string): Cause => ({
  cause,
  say: (next) => ({ kind: 'check', message: logged(next, say(next)) }),
})
export const target = (cause: string, say: (next: Random) => string): Cause => ({
  cause,
  say: (next) => ({ kind: 'target', message: say(next) }),
})

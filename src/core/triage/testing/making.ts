/** What failures are made of: values that differ from one to the next. */
import type { GroupedFailure } from '..'

export type Next = () => number
export type Cause = { cause: string; say(next: Next, i: number): Omit<GroupedFailure, 'id'> }

export const pick = <T>(next: Next, ...from: T[]): T => from[Math.floor(next() * from.length)]!
export const int = (next: Next, from: number, to: number): number =>
  from + Math.floor(next() * (to - from + 1))
export const hex = (next: Next, length: number) =>
  Array.from({ length }, () => int(next, 0, 15).toString(16)).join('')
export const uuid = (next: Next) => [8, 4, 4, 4, 12].map((length) => hex(next, length)).join('-')
export const ref = (next: Next) => `FS-${int(next, 10_000, 99_999)}`
export const amount = (next: Next) => {
  const [whole, cents] = [int(next, 1, 1999), String(int(next, 0, 99)).padStart(2, '0')]
  return pick(
    next,
    `${whole}.${cents}`,
    `${whole},${cents}`,
    whole > 999 ? `1.${String(whole).slice(1)},${cents}` : `${whole}.${cents}`,
  )
}
export const time = (next: Next) =>
  `${String(int(next, 0, 23)).padStart(2, '0')}:${String(int(next, 0, 59)).padStart(2, '0')}`
export const date = (next: Next) =>
  pick(
    next,
    `2026-11-${int(next, 10, 29)}`,
    `${int(next, 1, 28)}/11/2026`,
    `${int(next, 1, 28)}. November 2026`,
    `Nov ${int(next, 1, 28)}, 2026`,
  )
export const port = (next: Next) => pick(next, 'Skerrow', 'Quillhaven', 'Tolva', 'Maren Quay', 'Little Aske')
export const host = (next: Next) =>
  pick(
    next,
    `10.0.${int(next, 0, 255)}.${int(next, 1, 254)}:${int(next, 1024, 65_000)}`,
    `desk-${int(next, 1, 9)}.ferry.invalid:${int(next, 1024, 65_000)}`,
    `localhost:${int(next, 1024, 65_000)}`,
  )
export const logged = (next: Next, text: string) =>
  pick(
    next,
    text,
    `2026-11-${int(next, 10, 29)} ${time(next)}:${int(next, 10, 59)},${int(next, 100, 999)} ERROR [worker-${int(next, 1, 16)}] ${text}`,
    `\u001b[31m${text}\u001b[0m`,
  )

export const check = (cause: string, say: (next: Next) => string): Cause => ({
  cause,
  say: (next) => ({ kind: 'check', message: logged(next, say(next)) }),
})
export const target = (cause: string, say: (next: Next) => string): Cause => ({
  cause,
  say: (next) => ({ kind: 'target', message: say(next) }),
})

/** A generator of numbers from 0 to 1 (Park & Miller 1988). */
export function random(seed: number): Next {
  let state = seed
  return () => (state = (state * 48_271) % 2_147_483_647) / 2_147_483_647
}

/** An attempt on one line of time: a screen for each stretch of it, a tick a step, and its failures. */
import type { OutlineLine, Screen } from './outline'
import type { StepWords } from './work'

export const FRAMES = 14
/** Steps that would be drawn over each other are one tick. */
const TICKS_MOST = 400
const FAILURES_MOST = 500
const SPANS_MOST = 200
/** A wait that nobody would see is none. */
const WAIT_LEAST_MS = 200
const WAITING_VERBS: ReadonlySet<string> = new Set(['wait', 'meet'])

type At = { path: string; words: StepWords }
export type Film = {
  /** The screen that stood at the middle of each stretch. */
  frames: ((At & { screen: Screen }) | null)[]
  ticks: (At & { atMs: number })[]
  failures: { path: string; atMs: number; message: string }[]
  /** What recovery rules did, and what was waited for: the longest. */
  spans: (At & { kind: 'recovery' | 'wait'; fromMs: number; toMs: number })[]
}

/** @param lines in any order; those that were not reached are passed over
 * @param ms the length of the attempt */
export function filmOf(lines: readonly OutlineLine[], ms: number): Film {
  const reached = lines.filter((line) => line.startMs !== undefined)
  return {
    frames: framesOf(reached, ms),
    ticks: ticksOf(reached, ms),
    failures: reached
      .filter(({ failing }) => failing)
      .slice(0, FAILURES_MOST)
      .map(({ path, startMs, ms: took, failure }) => ({
        path,
        atMs: startMs! + (took ?? 0),
        message: failure?.message ?? '',
      })),
    spans: spansOf(reached),
  }
}

function spansOf(lines: readonly OutlineLine[]): Film['spans'] {
  return lines
    .flatMap(({ path, words, startMs = 0, ms = 0, recovery }): Film['spans'] => {
      const span = { path, words, fromMs: startMs, toMs: startMs + ms }
      if (recovery === 'branch') return [{ ...span, kind: 'recovery' }]
      return WAITING_VERBS.has(words.verb) && ms >= WAIT_LEAST_MS ? [{ ...span, kind: 'wait' }] : []
    })
    .sort((a, b) => b.toMs - b.fromMs - (a.toMs - a.fromMs))
    .slice(0, SPANS_MOST)
    .sort((a, b) => a.fromMs - b.fromMs)
}

/** An attempt of a case run, on the time of one of them. */
export type TimedAttempt = { id: string; role: string; startMs: number | null; ms: number }
export type CaseRunTime = {
  fromMs: number
  toMs: number
  /** One for each role; the attempts of each in the order they began. Places are shares of the whole. */
  lanes: { role: string; bars: { id: string; from: number; share: number }[] }[]
}

/** All attempts of a case run on one line of time, its roles beside each other.
 * @returns `undefined` when there is only one, or none began */
export function caseRunTime(attempts: readonly TimedAttempt[]): CaseRunTime | undefined {
  const begun = attempts.flatMap(({ startMs, ...one }) => (startMs === null ? [] : [{ ...one, startMs }]))
  if (begun.length < 2) return undefined
  const fromMs = Math.min(...begun.map(({ startMs }) => startMs))
  const toMs = Math.max(...begun.map(({ startMs, ms }) => startMs + ms), fromMs + 1)
  const roles = [...new Set(begun.map(({ role }) => role))].sort()
  return {
    fromMs,
    toMs,
    lanes: roles.map((role) => ({
      role,
      bars: begun
        .filter((one) => one.role === role)
        .sort((a, b) => a.startMs - b.startMs)
        .map(({ id, startMs, ms }) => ({
          id,
          from: (startMs - fromMs) / (toMs - fromMs),
          share: ms / (toMs - fromMs),
        })),
    })),
  }
}

function framesOf(lines: readonly OutlineLine[], ms: number): Film['frames'] {
  const all = lines
    .flatMap(({ before, after, path, words }) =>
      [before, after].flatMap((screen) => (screen ? [{ screen, path, words }] : [])),
    )
    .sort((a, b) => a.screen.atMs - b.screen.atMs)
  const frames: Film['frames'] = []
  let at = -1
  for (let i = 0; i < FRAMES; i++) {
    while (at + 1 < all.length && all[at + 1]!.screen.atMs <= ((i + 0.5) * ms) / FRAMES) at++
    frames.push(all[Math.max(0, at)] ?? null)
  }
  return frames
}

function ticksOf(lines: readonly OutlineLine[], ms: number): Film['ticks'] {
  const taken = new Map<number, Film['ticks'][number]>()
  for (const { startMs, failing, path, words } of lines) {
    const place = Math.round((startMs! / ms) * TICKS_MOST)
    if (!failing && !taken.has(place)) taken.set(place, { path, words, atMs: startMs! })
  }
  return [...taken.values()]
}

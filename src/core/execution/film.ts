/** An attempt on one line of time: a screen for each stretch of it, a tick a step, and its failures. */
import type { OutlineLine, Screen } from './outline'
import type { StepWords } from './work'

export const FRAMES = 14
/** Steps that would be drawn over each other are one tick. */
const TICKS_MOST = 400
const FAILURES_MOST = 500

type At = { path: string; words: StepWords }
export type Film = {
  /** The screen that stood at the middle of each stretch. */
  frames: ((At & { screen: Screen }) | null)[]
  ticks: (At & { atMs: number })[]
  failures: { path: string; atMs: number; message: string }[]
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

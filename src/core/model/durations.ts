const UNIT_MS = { ms: 1, s: 1000, m: 60_000, h: 3_600_000 } as const

/** Milliseconds of a written duration ("500ms", "30s", "2m", "1h"; a bare number is ms), or `undefined` if it
 * is none. */
export function parseDurationMs(written: string | number): number | undefined {
  if (typeof written === 'number')
    return Number.isFinite(written) && written >= 0 ? Math.round(written) : undefined
  const found = /^(\d+(?:\.\d+)?)(ms|s|m|h)$/.exec(written.trim())
  return found ? Math.round(Number(found[1]) * UNIT_MS[found[2] as keyof typeof UNIT_MS]) : undefined
}

/** A duration as a person would write it in a file, in the largest unit that has no rest: "90s", "2m",
 * "1h". */
export function durationText(ms: number): string {
  if (ms > 0 && ms % UNIT_MS.h === 0) return `${ms / UNIT_MS.h}h`
  if (ms > 0 && ms % UNIT_MS.m === 0) return `${ms / UNIT_MS.m}m`
  return ms % UNIT_MS.s === 0 ? `${ms / UNIT_MS.s}s` : `${ms}ms`
}

/** A duration as a person reads it: "0.3 s", "12 s", "2 min 5 s", "1 h 20 min". */
export function describeDuration(ms: number): string {
  if (ms < 9_950) return `${(ms / 1000).toFixed(1)} s`
  const seconds = Math.round(ms / 1000)
  if (seconds < 60) return `${seconds} s`
  const minutes = Math.floor(seconds / 60)
  if (minutes < 10) return seconds % 60 ? `${minutes} min ${seconds % 60} s` : `${minutes} min`
  const whole = Math.round(seconds / 60)
  if (whole < 60) return `${whole} min`
  return whole % 60 ? `${Math.floor(whole / 60)} h ${whole % 60} min` : `${whole / 60} h`
}

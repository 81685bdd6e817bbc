/** Repeatable randomness. Same seed, same numbers, on every machine. */

export type Random = () => number

/** Numbers in [0, 1), from a 32-bit seed (mulberry32, by Tommy Ettinger, public domain). */
export function randomFrom(seed: number): Random {
  let a = seed >>> 0
  return () => {
    a = (a + 0x6d2b79f5) >>> 0
    let t = a
    t = Math.imul(t ^ (t >>> 15), t | 1)
    t ^= t + Math.imul(t ^ (t >>> 7), t | 61)
    return ((t ^ (t >>> 14)) >>> 0) / 4_294_967_296
  }
}

/** A 32-bit seed from any text (FNV-1a). */
export function seedOf(text: string): number {
  let hash = 0x811c9dc5
  for (let i = 0; i < text.length; i++) hash = Math.imul(hash ^ text.charCodeAt(i), 0x01000193)
  return hash >>> 0
}

/** Which build behaves how. Ordinary code paths of these applications; nothing that tests them knows of this
 * list. */
const FAULTS = {
  'return-fare-rounded': ['2026.11.2'],
  'refund-over-400-fails': ['2026.11.2'],
  'board-button-under-footer': ['2026.11.3'],
  'month-first-outside-chromium': ['2026.11.3'],
  'labels-reworded': ['2026.11.4'],
  'deck-plan-lower': ['2026.11.4'],
} as const
export type Fault = keyof typeof FAULTS

export const BUILDS = ['2026.11.1', '2026.11.2', '2026.11.3', '2026.11.4']
export const hasFault = (build: string, fault: Fault) => (FAULTS[fault] as readonly string[]).includes(build)

/** What happens now and then, with how many of a thousand sessions it happens to. */
const PER_MILLE = { storm: 22, 'left-signed-in': 60, 'slow-manifest': 40 } as const

/** Which of them may happen: `instant` are those that take no time, for a history on a virtual clock. */
export const SURPRISES = ['all', 'instant', 'none'] as const
export type Surprises = (typeof SURPRISES)[number]
export const isSurprises = (text: unknown): text is Surprises => SURPRISES.includes(text as Surprises)

type Visit = { ask: { build: string }; session: { number: number }; seed: string; surprises: Surprises }

/** Whether it happens to this session. */
export function happens(what: keyof typeof PER_MILLE, { ask, session, seed, surprises }: Visit): boolean {
  if (surprises === 'none' || (surprises === 'instant' && what === 'slow-manifest')) return false
  return nowAndThen(what, ask.build, session.number, seed)
}

/** Decided by build, session and seed, so that a demo can be repeated. */
export function nowAndThen(
  what: keyof typeof PER_MILLE,
  build: string,
  session: number,
  seed: string,
): boolean {
  return hash(`${what}/${build}/${session}/${seed}`) % 1000 < PER_MILLE[what]
}
/** Between 2 and 8 seconds. */
export const slowMs = (session: number, seed: string) => 2000 + (hash(`slow/${session}/${seed}`) % 6000)

function hash(text: string): number {
  let h = 0x811c9dc5
  for (const char of text) h = Math.imul(h ^ char.codePointAt(0)!, 0x01000193)
  h ^= h >>> 15
  return Math.imul(h, 0x2c1b3c6d) >>> 0
}

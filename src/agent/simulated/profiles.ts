/** How the simulated environments behave: made up, seeded, and marked as simulated wherever they are
 * shown. */

export type Profile = {
  /** Time one request and one action take, before chance. */
  requestMs: number
  actionMs: number
  /** Chances per page: it hangs until the limit; its connection breaks. */
  hangs: number
  breaks: number
  /** Chance per click that it lands on an element just replaced, and nothing happens. */
  misses: number
}

const PROFILES: Record<string, Profile> = {
  'chromium-windows': { requestMs: 180, actionMs: 120, hangs: 0.001, breaks: 0.001, misses: 0.0008 },
  'chromium-windows-de': { requestMs: 190, actionMs: 120, hangs: 0.001, breaks: 0.001, misses: 0.0008 },
  'firefox-windows': { requestMs: 260, actionMs: 150, hangs: 0.002, breaks: 0.001, misses: 0.0015 },
  'chromium-macos': { requestMs: 150, actionMs: 90, hangs: 0.0008, breaks: 0.0008, misses: 0.0006 },
  'webkit-macos': { requestMs: 240, actionMs: 140, hangs: 0.0015, breaks: 0.0015, misses: 0.003 },
  'android-handset': { requestMs: 520, actionMs: 300, hangs: 0.003, breaks: 0.004, misses: 0.002 },
  'ios-handset': { requestMs: 430, actionMs: 260, hangs: 0.002, breaks: 0.003, misses: 0.002 },
}
const ORDINARY: Profile = { requestMs: 220, actionMs: 140, hangs: 0.001, breaks: 0.001, misses: 0.001 }

/** Profile of an environment by its key; an ordinary one for those made later. */
export const profileOf = (environment: string): Profile => PROFILES[environment] ?? ORDINARY

/** How long the next try to sign in has to wait, after so many that failed. Tries are counted by account and
 * address together, by address, and by account; only the last of these is shared by addresses, and an address
 * the account is known at is not asked for it: so nobody is locked out by what others try from elsewhere. */
export type TryCounts = { pair: number; address: number; account: number }

/** Failures that cost nothing yet. */
const FREE: TryCounts = { pair: 5, address: 20, account: 50 }
const FIRST_MS = 1000
export const WAIT_MOST_MS = 15 * 60_000
/** Failures are forgotten when none came for so long. */
export const FORGOTTEN_MS = 24 * 3_600_000

/** @param failures so far. @returns milliseconds from the last one; doubled with each more, up to a quarter
 * of an hour */
export function waitAfter(failures: number, free: number): number {
  return failures < free ? 0 : Math.min(WAIT_MOST_MS, FIRST_MS * 2 ** Math.min(30, failures - free))
}

/** "12 seconds", "3 minutes": how long to wait, as people say it. */
export function waitInWords(ms: number): string {
  const seconds = Math.ceil(ms / 1000)
  if (seconds < 60) return seconds === 1 ? 'a second' : `${seconds} seconds`
  const minutes = Math.ceil(seconds / 60)
  return minutes === 1 ? 'a minute' : `${minutes} minutes`
}

/** @param ages milliseconds since the last failure of each kind
 * @param known whether the account was signed in from this address before
 * @returns how much longer the next try has to wait; 0: it may be made */
export function waitLeft(counts: TryCounts, ages: TryCounts, known: boolean): number {
  const kinds = (['pair', 'address', 'account'] as const).filter((kind) => kind !== 'account' || !known)
  return Math.max(0, ...kinds.map((kind) => waitAfter(counts[kind], FREE[kind]) - ages[kind]))
}

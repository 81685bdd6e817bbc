/** Work that can wait stands back behind the processes that answer people: without it, a page that never
 * stops scripting takes as much of a machine as the server whose pages it keeps waiting. */
import { writeFileSync } from 'node:fs'
import { getPriority, setPriority } from 'node:os'

/** As `nice` counts: 0 is usual, 19 the last. Agents and browsers stand back a little only: on a machine
 * whose cores other programs keep busy, a page that gets a thirtieth of one looks as if it never answered. */
export const NICE = { agent: 4, thread: 10 } as const
/** How far a browser stands back behind its agent. */
export const BROWSER_BEHIND_AGENT = 5
export const niceOfBrowser = (): number => getPriority() + BROWSER_BEHIND_AGENT

/** Gives a process a lower priority, and the session it leads: Linux shares cores between sessions first
 * (sched(7), autogroup).
 * Elsewhere, or without the right to, it stays as it is.
 * @param pid 0: the thread that calls
 * @param nice never lower than before */
export function standBack(pid: number, nice: number): void {
  try {
    setPriority(pid, nice)
  } catch {} // gone, or not ours
  if (pid === 0) return
  try {
    writeFileSync(`/proc/${pid}/autogroup`, String(nice))
  } catch {} // a system without it
}

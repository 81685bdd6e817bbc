/** Work that can wait stands back behind the processes that answer people: without it, a page that never
 * stops scripting takes as much of a machine as the server whose pages it keeps waiting. */
import { writeFileSync } from 'node:fs'
import { setPriority } from 'node:os'

/** As `nice` counts: 0 is usual, 19 the last. */
export const NICE = { agent: 10, thread: 10, browser: 15 } as const

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

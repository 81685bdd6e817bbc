/** Lower priority for work that can wait. Without it, a page that never stops scripting gets as much of the
 * machine as the server that answers people. */
import { writeFileSync } from 'node:fs'
import { getPriority, setPriority } from 'node:os'

/** Nice values: 0 is the default, 19 the lowest priority. Agents and browsers get only a little less: on a
 * machine whose cores are kept busy by other programs, a page with a thirtieth of a core looks as if it
 * never answered. */
export const NICE = { agent: 4, thread: 10 } as const
/** Added to the nice value of its agent. */
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

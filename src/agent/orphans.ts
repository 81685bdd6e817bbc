/** Browsers that an agent process left behind when it was killed. Everything a process starts inherits who
 * started it;
 * at the next start, what belongs to nobody any more is ended. */
import { readFileSync } from 'node:fs'
import { endProcesses } from './browser-process'

const OWNER = 'OAK_AGENT_PROCESS'

/** From now on what this process starts is known as its own. */
export function ownWhatIsStarted(): void {
  process.env[OWNER] = String(process.pid)
}

/** Ends processes whose agent is gone. @returns how many */
export const endOrphans = (): number =>
  endProcesses((environ) => {
    const owner = Number(environ.get(OWNER) ?? NaN)
    return Number.isInteger(owner) && owner !== process.pid && !isAlive(owner)
  })

/** Whether this process is there and is an agent: its number may belong to another by now. */
function isAlive(pid: number): boolean {
  try {
    return readFileSync(`/proc/${pid}/cmdline`, 'latin1').includes('agent')
  } catch {
    return false
  }
}

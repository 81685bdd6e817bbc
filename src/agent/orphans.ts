/** Browsers that an agent process left behind when it was killed. Everything a process starts inherits who started it; at the next start, what belongs to nobody any more is ended. */
import { readdirSync, readFileSync } from 'node:fs'

const OWNER = 'OAK_AGENT_PROCESS'

/** From now on what this process starts is known as its own. */
export function ownWhatIsStarted(): void {
  process.env[OWNER] = String(process.pid)
}

/** Ends processes whose agent is gone. Linux only: elsewhere it finds none. @returns how many */
export function endOrphans(): number {
  let ended = 0
  for (const pid of processes()) {
    const owner = ownerOf(pid)
    if (owner === undefined || owner === process.pid || pid === process.pid || isAlive(owner)) continue
    try {
      process.kill(pid, 'SIGKILL')
      ended++
    } catch {} // gone meanwhile, or not ours to end
  }
  return ended
}

function processes(): number[] {
  try {
    return readdirSync('/proc').flatMap((name) => (/^\d+$/.test(name) ? [Number(name)] : []))
  } catch {
    return []
  }
}

function ownerOf(pid: number): number | undefined {
  try {
    const found = readFileSync(`/proc/${pid}/environ`, 'latin1').split('\0').find((entry) => entry.startsWith(`${OWNER}=`))
    return found ? Number(found.slice(OWNER.length + 1)) : undefined
  } catch {
    return undefined
  }
}

/** Whether this process is there and is an agent: its number may belong to another by now. */
function isAlive(pid: number): boolean {
  try {
    return readFileSync(`/proc/${pid}/cmdline`, 'latin1').includes('agent')
  } catch {
    return false
  }
}

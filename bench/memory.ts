import { readFileSync } from 'node:fs'

const BYTES = 1_048_576

/** What a process has in memory, in MB; `undefined`: it is gone. */
export function megabytesOf(pid: number | undefined): number | undefined {
  try {
    const [, kilobytes] = /VmRSS:\s+(\d+) kB/.exec(readFileSync(`/proc/${pid}/status`, 'utf8')) ?? []
    return kilobytes === undefined ? undefined : (Number(kilobytes) * 1024) / BYTES
  } catch {
    return undefined
  }
}

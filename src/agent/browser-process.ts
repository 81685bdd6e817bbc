/** Browsers as processes: each is started with a mark in its environment, which all its processes inherit,
 * so that all of them can be ended when it does not close by itself. Linux only: elsewhere none is found. */
import { readdirSync, readFileSync } from 'node:fs'
import { resolve } from 'node:path'
import { BROWSER_BEHIND_AGENT, niceOfBrowser, standBack } from '@/node/background'
import { childEnv, type ChildEnv } from '@/node/child-env'

const MARK = 'OAK_BROWSER'
let count = 0

/** A mark that no other browser of this machine has. */
export const newMark = (): string => `${process.pid}-${++count}`

/** What is started in place of a browser's own program: it starts that one with a lower priority. */
export const startBrowserPath = (): string => resolve('src/agent/start-browser.sh')

/** The environment `startBrowserPath` is started with, and with it the browser.
 * @param program path of the browser */
export const browserEnv = (mark: string, program: string, more: Record<string, string> = {}): ChildEnv =>
  childEnv({
    ...more,
    [MARK]: mark,
    OAK_BROWSER_PROGRAM: program,
    OAK_BROWSER_NICE: String(niceOfBrowser()),
    OAK_BROWSER_BEHIND: String(BROWSER_BEHIND_AGENT),
  })

/** Ends every process of the browser with this mark. @returns how many */
export const endBrowser = (mark: string): number => endProcesses((environ) => environ.get(MARK) === mark)

/** Lowers the priority of every process of the browser with this mark. Linux may have refused it when the
 * browser started, where the agent is not root. */
export function letStandBack(mark: string): void {
  const nice = niceOfBrowser()
  for (const pid of processes()) if (environOf(pid)?.get(MARK) === mark) standBack(pid, nice)
}

/** Ends processes by what their environment says. @returns how many */
export function endProcesses(which: (environ: ReadonlyMap<string, string>) => boolean): number {
  let ended = 0
  for (const pid of processes()) {
    const environ = environOf(pid)
    if (pid === process.pid || !environ || !which(environ)) continue
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

function environOf(pid: number): Map<string, string> | undefined {
  try {
    const entries = readFileSync(`/proc/${pid}/environ`, 'latin1').split('\0')
    return new Map(
      entries.map((entry) => [entry.slice(0, entry.indexOf('=')), entry.slice(entry.indexOf('=') + 1)]),
    )
  } catch {
    return undefined
  }
}

/** Child processes: started, watched, started again when they fall, stopped together. */
import { spawn, type ChildProcess } from 'node:child_process'
import { closeSync, existsSync, mkdirSync, openSync, readFileSync } from 'node:fs'
import { join } from 'node:path'
import { NICE, standBack } from '@/node/background'
import { rotateLog } from './rotate-log'

/** `kind`: agents and stand-ins are not trusted: their environment holds none of the product's secrets. */
export type Spec = { name: string; args: string[]; kind?: 'agent' | 'stand-ins' }
export type Environments = {
  own: NodeJS.ProcessEnv
  outside: NodeJS.ProcessEnv
  standIns: Record<string, string>
}
type Running = { spec: Spec; child: ChildProcess; falls: number }

/** A process that exits again and again is restarted with a growing delay, and never given up: nobody watches
 * at night. */
const PAUSE_MS = 500
const PAUSE_MOST_MS = 5000
const STEADY_MS = 60_000
const STOP_MS = 6000
/** How often logs are looked at for their size. */
const ROTATE_MS = 60_000

const SETPRIV = '/usr/bin/setpriv'
/** Started as root, an agent gives up the right to raise priorities: browsers use it, and would come before
 * the server. */
const WITHOUT_RAISING = ['--inh-caps=-sys_nice', '--bounding-set=-sys_nice']

/** The program that runs a process of ours, and what comes before its own arguments. */
function runnerOf({ kind }: Spec): [file: string, before: string[]] {
  if (kind !== 'agent' || process.getuid?.() !== 0 || !existsSync(SETPRIV)) return [process.execPath, []]
  return [SETPRIV, [...WITHOUT_RAISING, process.execPath]]
}

export class Processes {
  private readonly running = new Map<string, Running>()
  private stopping = false
  private readonly rotating: NodeJS.Timeout

  constructor(
    private readonly logs: string,
    private readonly environments: Environments,
    private readonly say: (text: string) => void,
  ) {
    mkdirSync(logs, { recursive: true })
    this.rotating = setInterval(() => this.rotate(), ROTATE_MS)
    this.rotating.unref()
  }

  logOf = (name: string) => join(this.logs, `${name}.log`)
  isRunning = (name: string) =>
    this.running.get(name)?.child.exitCode === null && this.running.get(name)?.child.signalCode === null

  start(spec: Spec, falls = 0): void {
    const log = openSync(this.logOf(spec.name), 'a')
    const begun = Date.now()
    // A group of its own: Ctrl-C reaches only the launcher, which stops the others in order.
    const [file, before] = runnerOf(spec)
    const child = spawn(file, [...before, ...spec.args], {
      env: this.envOf(spec),
      stdio: ['ignore', log, log],
      detached: true,
    })
    closeSync(log)
    if (spec.kind === 'agent' && child.pid) standBack(child.pid, NICE.agent)
    this.running.set(spec.name, { spec, child, falls })
    child.once('exit', (code, signal) => {
      if (this.stopping) return
      const again = Date.now() - begun > STEADY_MS ? 0 : falls + 1
      this.say(
        `${spec.name}: ended (${signal ?? code}), started ` +
          `again${again > 3 ? `, the ${again}th time in a row` : ''}; see ${this.logOf(spec.name)}`,
      )
      setTimeout(() => !this.stopping && this.start(spec, again), Math.min(PAUSE_MOST_MS, PAUSE_MS * again))
    })
  }

  /** Runs to its end. @returns its exit code; what it wrote is in its log */
  async once(spec: Spec, show?: (line: string) => void): Promise<number> {
    const child = spawn(process.execPath, spec.args, {
      env: this.envOf(spec),
      stdio: ['ignore', 'pipe', 'pipe'],
    })
    const written: string[] = []
    const take = (part: Buffer) => {
      written.push(String(part))
      if (show) String(part).trimEnd().split('\n').forEach(show)
    }
    child.stdout.on('data', take)
    child.stderr.on('data', (part: Buffer) => void written.push(String(part)))
    const code = await new Promise<number>((resolve) => child.once('close', (status) => resolve(status ?? 1)))
    if (code !== 0) this.say(written.join('').trim().split('\n').slice(-15).join('\n'))
    return code
  }

  private envOf({ kind }: Spec): NodeJS.ProcessEnv {
    const { own, outside, standIns } = this.environments
    if (kind === 'agent') return outside
    return kind === 'stand-ins' ? { ...outside, ...standIns } : own
  }

  states(): { name: string; state: string; pid: number | undefined }[] {
    return [...this.running.values()].map(({ spec, child }) => ({
      name: spec.name,
      state: this.isRunning(spec.name) ? 'running' : 'stopped',
      pid: child.pid,
    }))
  }

  tail = (name: string, lines = 8) =>
    readFileSync(this.logOf(name), 'utf8').trim().split('\n').slice(-lines).join('\n')

  private rotate(): void {
    for (const name of this.running.keys()) rotateLog(this.logOf(name))
  }

  /** Agents first, so that they can still report; then the rest. */
  async stop(): Promise<void> {
    this.stopping = true
    clearInterval(this.rotating)
    const isAgent = ({ spec }: Running) => spec.name.startsWith('agent')
    const all = [...this.running.values()]
    for (const group of [all.filter(isAgent), all.filter((one) => !isAgent(one))])
      await Promise.all(group.map(({ child }) => end(child)))
  }
}

function end(child: ChildProcess): Promise<void> {
  if (child.exitCode !== null || child.signalCode !== null || child.pid === undefined)
    return Promise.resolve()
  return new Promise((resolve) => {
    const timer = setTimeout(() => killGroup(child, 'SIGKILL'), STOP_MS)
    child.once('exit', () => {
      clearTimeout(timer)
      killGroup(child, 'SIGKILL') // browsers it may have left
      resolve()
    })
    child.kill('SIGTERM')
  })
}

function killGroup(child: ChildProcess, signal: NodeJS.Signals): void {
  try {
    process.kill(-child.pid!, signal)
  } catch {} // nothing of it is left
}

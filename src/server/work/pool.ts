/** Worker threads for data that people and programs send: however large or slow it is, the main thread stays
 * free. */
import { Worker } from 'node:worker_threads'
import { Problem } from '../http/problems'
import { runJob, type InputOf, type JobName, type OutputOf, type Question, type Reply } from './jobs'

/** `limitMs`: from when a thread begins with it. */
export type WorkLimits = { limitMs: number }

export interface WorkPool {
  /** @throws {Problem} BUSY when too many wait already, TOOK_TOO_LONG, TOOK_TOO_MUCH */
  run<J extends JobName>(job: J, input: InputOf<J>, limits: WorkLimits): Promise<OutputOf<J>>
}

/** Kinds of work with threads of their own, so that slow work does not delay quick work, and requests of
 * people do not delay starts. */
const LANES: Record<JobName, Lane> = {
  parse: 'quick',
  parseAll: 'slow',
  compute: 'slow',
  history: 'slow',
  causes: 'slow',
  outlook: 'plan',
  unzip: 'slow',
  zip: 'slow',
  difference: 'slow',
  findOnScreens: 'slow',
  readLog: 'read',
  besideLogs: 'read',
}
type Lane = 'quick' | 'slow' | 'plan' | 'read'

/** Of those that read, one: it keeps what it read. */
const THREADS: Record<Lane, number> = { quick: 1, slow: 1, plan: 1, read: 1 }
/** Jobs beyond this are refused as busy. */
const WAITING_MOST: Record<Lane, number> = { quick: 40, slow: 16, plan: 40, read: 80 }
const MEMORY_MB = 512

type Waiting = {
  job: JobName
  input: unknown
  limitMs: number
  resolve(output: unknown): void
  reject(error: Error): void
}
type Seat = {
  thread: Worker | undefined
  current: (Waiting & { id: number; timer: NodeJS.Timeout }) | undefined
}

/** @param file the bundle of thread.ts */
export function threadedWork(file: string): WorkPool {
  const lanes: Record<Lane, { seats: Seat[]; waiting: Waiting[] }> = {
    quick: laneOf('quick'),
    slow: laneOf('slow'),
    plan: laneOf('plan'),
    read: laneOf('read'),
  }
  let last = 0

  function laneOf(lane: Lane) {
    return {
      seats: Array.from({ length: THREADS[lane] }, (): Seat => ({ thread: undefined, current: undefined })),
      waiting: [],
    }
  }

  function next(lane: Lane): void {
    const { seats, waiting } = lanes[lane]
    const seat = seats.find(({ current }) => !current)
    const one = seat && waiting.shift()
    if (!seat || !one) return
    const id = ++last
    const timer = setTimeout(() => end(lane, seat, new Problem('TOOK_TOO_LONG')), one.limitMs)
    seat.current = { ...one, id, timer }
    seat.thread ??= begin(lane, seat)
    seat.thread.ref()
    seat.thread.postMessage({ id, job: one.job, input: one.input } satisfies Question)
  }

  function begin(lane: Lane, seat: Seat): Worker {
    const made = new Worker(file, { resourceLimits: { maxOldGenerationSizeMb: MEMORY_MB } })
    made.on('message', ({ id, output, problem }: Reply) => {
      if (seat.current?.id !== id) return
      const { resolve, reject } = takeCurrent(seat)
      if (problem === undefined) resolve(output)
      else reject(new Error(problem))
      made.unref() // it never keeps a process alive that has nothing else to do
      next(lane)
    })
    made.on('error', (error: NodeJS.ErrnoException) => {
      const tooMuch = error.code === 'ERR_WORKER_OUT_OF_MEMORY'
      if (seat.thread === made) end(lane, seat, tooMuch ? new Problem('TOOK_TOO_MUCH') : error)
    })
    made.on('exit', () => {
      if (seat.thread === made) end(lane, seat, new Error('the thread has ended'))
    })
    return made
  }

  function takeCurrent(seat: Seat): Waiting {
    const { current } = seat
    clearTimeout(current!.timer)
    seat.current = undefined
    return current!
  }

  /** Gives up what a thread is at, with the thread: the next one gets another. */
  function end(lane: Lane, seat: Seat, error: Error): void {
    const { thread } = seat
    seat.thread = undefined
    void thread?.terminate()
    if (seat.current) takeCurrent(seat).reject(error)
    next(lane)
  }

  return {
    run: <J extends JobName>(job: J, input: InputOf<J>, { limitMs }: WorkLimits) =>
      new Promise<OutputOf<J>>((resolve, reject) => {
        const lane = LANES[job]
        const { waiting } = lanes[lane]
        if (waiting.length >= WAITING_MOST[lane]) return reject(new Problem('BUSY'))
        waiting.push({ job, input, limitMs, resolve: resolve as (output: unknown) => void, reject })
        next(lane)
      }),
  }
}

/** In this thread, without bounds: where there is no bundle. */
export const workHere: WorkPool = { run: async (job, input) => runJob(job, input) }

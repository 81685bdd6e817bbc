/** Plans beside the main thread: a run of 20,000 case runs takes seconds to plan, and nobody else who asks is to wait for that. */
import { Worker } from 'node:worker_threads'
import { outlook, type Outlook, type OutlookBasis, type OutlookRotation } from '@/core/rota'

export type PlanQuestion = { id: number; rotation: OutlookRotation; basis: OutlookBasis }
export type PlanAnswer = { id: number; outlook: Outlook }
/** What `outlook` of the core says, sooner or later. */
export type Planner = (rotation: OutlookRotation, basis: OutlookBasis) => Promise<Outlook>

type Waiting = { resolve(found: Outlook): void; reject(error: Error): void }

/** One thread for all, made at the first question. When it dies, who waits is told, and the next question makes another.
 * @param file the bundle of planner.thread.ts */
export function threadedPlanner(file: string): Planner {
  const waiting = new Map<number, Waiting>()
  let thread: Worker | undefined
  let last = 0
  const begin = (): Worker => {
    const made = new Worker(file)
    made.unref() // it never keeps a process alive that has nothing else to do
    const fail = (error: Error) => {
      if (thread !== made) return
      thread = undefined
      for (const one of waiting.values()) one.reject(error)
      waiting.clear()
    }
    made.on('message', ({ id, outlook: found }: PlanAnswer) => {
      waiting.get(id)?.resolve(found)
      waiting.delete(id)
      if (waiting.size === 0) made.unref()
    })
    made.on('error', fail)
    made.on('exit', () => fail(new Error('the thread that plans has ended')))
    return made
  }
  return (rotation, basis) => new Promise((resolve, reject) => {
    thread ??= begin()
    const id = ++last
    waiting.set(id, { resolve, reject })
    thread.ref()
    thread.postMessage({ id, rotation, basis } satisfies PlanQuestion)
  })
}

/** In this thread: where there is no bundle. */
export const planHere: Planner = async (rotation, basis) => outlook(rotation, basis, { clock: () => performance.now() })

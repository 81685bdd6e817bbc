/** Looks at the screens of this agent's browsers: few at once, and in a thread of its own, so that attempts
 * on other seats go on meanwhile. */
import { Worker } from 'node:worker_threads'
import { DriverFault } from '../driver/port'
import type { ComparedPicture, Eyes, Looking, PatchesSeen, WordsSeen } from '../driver/eyes'
import { look } from './reading'

export type ToEyes = { id: number; looking: Looking }
export type FromEyes = { id: number } & ({ seen: unknown } | { why: string })

const AT_ONCE = 2

/** In the thread of whoever asks. */
export const eyesHere = (): Eyes => eyesBy(look)

/** In a thread, which begins with the first picture. @param file thread.ts, bundled */
export function threadedEyes(file: string): Eyes {
  let thread: Worker | undefined
  let count = 0
  const waiting = new Map<number, (answer: FromEyes) => void>()
  const begin = () => {
    const made = new Worker(file)
    made.unref()
    made.on('message', (answer: FromEyes) => waiting.get(answer.id)?.(answer))
    const end = (why: string) => {
      if (thread !== made) return
      thread = undefined
      for (const [id, answer] of waiting) answer({ id, why })
    }
    made.on('error', (error) => end(`what looks at the screen ended: ${error.message}`))
    made.on('exit', () => end('what looks at the screen ended'))
    return made
  }
  const ask = async (looking: Looking) => {
    thread ??= begin()
    const id = ++count
    const answer = await new Promise<FromEyes>((resolve) => {
      waiting.set(id, resolve)
      thread!.postMessage({ id, looking } satisfies ToEyes)
    }).finally(() => waiting.delete(id))
    if ('why' in answer) throw new Error(answer.why)
    return answer.seen
  }
  return eyesBy(ask)
}

function eyesBy(look: (looking: Looking) => Promise<unknown>): Eyes {
  let busy = 0
  const waiting: (() => void)[] = []
  const inTurn = async <T>(looking: Looking): Promise<T> => {
    if (busy >= AT_ONCE) await new Promise<void>((resolve) => waiting.push(resolve))
    busy++
    try {
      return (await look(looking)) as T
    } catch (error) {
      throw new DriverFault('agent', (error as Error).message)
    } finally {
      busy--
      waiting.shift()?.()
    }
  }
  return {
    read: (picture) => inTurn<WordsSeen>({ do: 'read', picture }),
    find: (picture, patch) => inTurn<PatchesSeen>({ do: 'find', picture, patch }),
    compare: (picture, how) => inTurn<ComparedPicture>({ do: 'compare', picture, how }),
  }
}

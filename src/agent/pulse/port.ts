/** The way from an agent to its pulse. */
import { Worker } from 'node:worker_threads'
import type { HeartbeatAnswer, ProtocolClient } from '../protocol/client'
import { Pulse, type Carried, type FromPulse, type ToPulse } from './pulse'

export type Listener = {
  answer(asked: string[], answer: HeartbeatAnswer): void
  overdue(attemptId: string): void
}

export interface PulsePort {
  /** Signs of life of this agent begin; what comes back goes to `listener`. */
  begin(id: string, everyMs: number, listener: Listener): void
  /** All that the agent carries out now. */
  carries(id: string, attempts: Carried[]): void
  /** Nothing is heard of it, as long as it is so. */
  silence(id: string, silent: boolean): void
  end(): void
}

class Messages implements PulsePort {
  private readonly listeners = new Map<string, Listener>()

  constructor(private readonly post: (message: ToPulse) => void) {}

  begin(id: string, everyMs: number, listener: Listener): void {
    this.listeners.set(id, listener)
    this.post({ type: 'agent', id, everyMs })
  }
  carries(id: string, attempts: Carried[]): void {
    this.post({ type: 'carried', id, attempts })
  }
  silence(id: string, silent: boolean): void {
    this.post({ type: 'silent', id, silent })
  }
  end(): void {
    this.post({ type: 'end' })
  }
  take(message: FromPulse): void {
    const listener = this.listeners.get(message.id)
    if (message.type === 'answer') listener?.answer(message.asked, message.answer)
    else listener?.overdue(message.attemptId)
  }
}

/** In a thread of its own. @param file the bundled thread.ts */
export function threadedPulse(file: string, server: string, token: string): PulsePort {
  const thread = new Worker(file, { workerData: { server, token } })
  const port = new Messages((message) => thread.postMessage(message))
  thread.on('message', (message: FromPulse) => port.take(message))
  return port
}

/** In the caller's own event loop: for tests. */
export function pulseHere(
  client: Pick<ProtocolClient, 'heartbeat'>,
  endBrowser: (mark: string) => unknown,
): PulsePort {
  const pulse = new Pulse(client, (message) => port.take(message), endBrowser)
  const port = new Messages((message) => pulse.handle(message))
  return port
}

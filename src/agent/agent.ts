/** One agent: registers, beats, and keeps its seats busy until told to stop. */
import { randomUUID } from 'node:crypto'
import type { Work } from '@/core/execution'
import { realPace, type BrowserDriver, type Pace } from './driver/port'
import { Gate, runAttempt } from './interpreter'
import { LeaseLost, pause, type ProtocolClient, type Registration } from './protocol/client'
import { Reporter, type SentHashes } from './protocol/reporter'
import type { Spool } from './protocol/spool'

export type AgentOptions = Omit<Registration, 'instance'>
export type AgentPorts = { client: ProtocolClient; openDriver(work: Work, pace: Pace): Promise<BrowserDriver>; sent: SentHashes; spool?: Spool; say(text: string): void }

type Held = { lease: number; cancel: AbortController; drop: AbortController; gate: Gate }

/** Serves until `signal` aborts; then what is in hand is stopped, reported as cancelled, and the agent ends. */
export async function runAgent(options: AgentOptions, ports: AgentPorts, signal: AbortSignal): Promise<void> {
  const { client, say } = ports
  await deliverLeftovers(options.name, ports, signal)
  const { id, heartbeatMs } = await client.register({ ...options, instance: randomUUID() }, signal)
  const held = new Map<string, Held>()
  say(`${options.name}: ready, ${options.seats} ${options.seats === 1 ? 'seat' : 'seats'}, serves ${options.environments.join(', ')}`)
  const beating = beat(id, heartbeatMs, held, ports, signal)
  await Promise.all(Array.from({ length: options.seats }, (_, i) => serveSeat(id, options.name, i + 1, held, ports, signal)))
  await beating
}

/** What an earlier process of this agent could not send: before it registers anew, for then what that one held is given up. */
async function deliverLeftovers(name: string, { client, sent, spool, say }: AgentPorts, signal: AbortSignal): Promise<void> {
  for (const left of spool?.leftoversOf(name) ?? []) {
    const { agentId, attemptId, events, pieces, result } = left
    try {
      const reporter = new Reporter(client, agentId, left, sent, signal, () => {})
      for (const [hash, mime] of pieces) {
        const bytes = spool!.readPiece(hash)
        if (bytes) reporter.evidence({ hash, mime, bytes })
      }
      for (const event of events) reporter.event(event)
      if (result) await reporter.finish(result)
      else await reporter.flush()
      say(`${name}: attempt ${attemptId} of before is delivered${result ? '' : ', as far as it came'}`)
    } catch (error) {
      if (signal.aborted) return
      say(`${name}: attempt ${attemptId} of before is not wanted any more (${(error as Error).name})`)
    }
    spool!.drop(left)
  }
}

async function beat(id: string, everyMs: number, held: Map<string, Held>, { client, say }: AgentPorts, signal: AbortSignal): Promise<void> {
  while (!signal.aborted) {
    const attempts = [...held].map(([attemptId, { lease }]) => ({ attemptId, lease }))
    const answer = await client.heartbeat(id, attempts, signal).catch(() => undefined)
    const paused = new Set(answer?.commands.flatMap(({ attemptId, command }) => (command === 'pause' ? [attemptId] : [])))
    if (answer) for (const [attemptId, { gate }] of held) gate.set(paused.has(attemptId))
    for (const { attemptId, command } of answer?.commands ?? []) {
      if (command === 'pause') continue
      const hold = held.get(attemptId)
      if (command === 'drop') say(`attempt ${attemptId} is not ours any more; dropped`)
      hold?.cancel.abort()
      if (command === 'drop') hold?.drop.abort()
    }
    await pause(everyMs, signal)
  }
}

async function serveSeat(id: string, name: string, seat: number, held: Map<string, Held>, ports: AgentPorts, signal: AbortSignal): Promise<void> {
  while (!signal.aborted) {
    const answer = await ports.client.claim(id, seat, signal).catch((error: Error) => {
      if (!signal.aborted) ports.say(`${name}: claim failed: ${error.message}`)
      return pause(1000, signal)
    })
    if (answer?.work) await carryOut(id, name, answer.work, held, ports, signal)
  }
}

async function carryOut(id: string, name: string, work: Work, held: Map<string, Held>, ports: AgentPorts, signal: AbortSignal): Promise<void> {
  const hold: Held = { lease: work.lease, cancel: new AbortController(), drop: new AbortController(), gate: new Gate() }
  held.set(work.attemptId, hold)
  const pace = realPace()
  const spooled = ports.spool?.begin({ agent: name, agentId: id, attemptId: work.attemptId, lease: work.lease })
  const reporter = new Reporter(ports.client, id, work, ports.sent, hold.drop.signal, () => hold.cancel.abort(), spooled)
  try {
    const driver = await ports.openDriver(work, pace)
    const stop = AbortSignal.any([signal, hold.cancel.signal])
    const result = await runAttempt(work, { driver, pace, sink: reporter, agent: name, signal: stop, gate: hold.gate })
    // Stopped because this process ends: the work is not cancelled, another agent takes it when the lease runs out.
    if (!(signal.aborted && result.outcome === 'cancelled')) await reporter.finish(result)
    else await reporter.flush()
  } catch (error) {
    if (error instanceof LeaseLost) ports.say(`${name}: the result of attempt ${work.attemptId} came too late and was refused`)
    else if (!hold.drop.signal.aborted) {
      ports.say(`${name}: ${(error as Error).message}`)
      await reporter.finish({ outcome: 'errored', failure: { kind: 'agent', message: `The agent could not carry it out: ${(error as Error).message.split('\n')[0]}` }, ms: pace.now() }).catch(() => {})
    }
  } finally {
    if (!signal.aborted || reporter.isEmpty) spooled?.end() // what could not be sent before this process ends waits for the next one
    hold.drop.abort()
    held.delete(work.attemptId)
  }
}

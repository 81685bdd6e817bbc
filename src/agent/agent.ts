/** One agent: registers, beats, and keeps its seats busy until told to stop. */
import { randomUUID } from 'node:crypto'
import { AGENT_PROTOCOL, type Work } from '@/core/execution'
import { realPace, type BrowserDriver, type Pace } from './driver/port'
import { Held } from './held'
import { runAttempt, type Meet } from './interpreter'
import { LeaseLost, pause, type ProtocolClient, type Registration } from './protocol/client'
import { Reporter, type SentHashes } from './protocol/reporter'
import type { Spool } from './protocol/spool'
import { Trouble } from './trouble'
import { showScreen } from './watch'

export type AgentOptions = Omit<Registration, 'instance' | 'protocol'>
export type AgentPorts = { client: ProtocolClient; openDriver(work: Work, pace: Pace, trouble: Trouble): Promise<BrowserDriver>; sent: SentHashes; spool?: Spool; say(text: string): void }

/** Serves until `signal` aborts; then what is in hand is stopped, reported as cancelled, and the agent ends. */
export async function runAgent(options: AgentOptions, ports: AgentPorts, signal: AbortSignal): Promise<void> {
  const { client, say } = ports
  await deliverLeftovers(options.name, ports, signal)
  const { id, heartbeatMs } = await client.register({ ...options, protocol: AGENT_PROTOCOL, instance: randomUUID() }, signal)
  const held = new Map<string, Held>()
  say(`${options.name}: ready, ${options.seats} ${options.seats === 1 ? 'seat' : 'seats'}, serves ${options.environments.join(', ')}`)
  const trouble = new Trouble()
  const beating = beat(id, heartbeatMs, held, trouble, ports, signal)
  await Promise.all(Array.from({ length: options.seats }, (_, i) => serveSeat({ id, name: options.name, seat: i + 1 }, held, trouble, ports, signal)))
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

async function beat(id: string, everyMs: number, held: Map<string, Held>, trouble: Trouble, { client, say }: AgentPorts, signal: AbortSignal): Promise<void> {
  while (!signal.aborted) {
    if (trouble.isLost) {
      say('lost, as it was told to be: nothing is heard or said')
      for (const one of held.values()) one.give()
      await trouble.untilFound(signal)
    }
    const attempts = [...held].map(([attemptId, { lease }]) => ({ attemptId, lease }))
    const answer = await client.heartbeat(id, attempts, signal).catch(() => undefined)
    if (answer) {
      trouble.set(answer.misbehaviours ?? [])
      for (const { attemptId } of attempts) {
        const commands = answer.commands.filter((one) => one.attemptId === attemptId)
        const hold = held.get(attemptId)
        if (hold && !hold.finishing && commands.some(({ command }) => command === 'drop')) say(`attempt ${attemptId} is not ours any more; dropped`)
        hold?.obey(commands)
      }
    }
    await pause(everyMs, signal)
  }
}

type Seat = { id: string; name: string; seat: number }

async function serveSeat(seat: Seat, held: Map<string, Held>, trouble: Trouble, ports: AgentPorts, signal: AbortSignal): Promise<void> {
  let next: Work | undefined
  while (!signal.aborted) {
    await trouble.untilFound(signal)
    if (next) {
      next = await carryOut(seat, next, held, trouble, ports, signal)
      continue
    }
    const answer = await ports.client.claim(seat.id, seat.seat, signal).catch((error: Error) => {
      if (!signal.aborted) ports.say(`${seat.name}: claim failed: ${error.message}`)
      return pause(1000, signal)
    })
    next = answer?.work ?? undefined
  }
}

/** @returns the seat's next work, when the server has given it with the answer to this one */
async function carryOut({ id, name, seat }: Seat, work: Work, held: Map<string, Held>, trouble: Trouble, ports: AgentPorts, signal: AbortSignal): Promise<Work | undefined> {
  const { attemptId, lease } = work
  const hold = new Held(lease)
  held.set(attemptId, hold)
  const pace = realPace()
  const spooled = ports.spool?.begin({ agent: name, agentId: id, attemptId, lease })
  const reporter = new Reporter(ports.client, id, work, ports.sent, hold.drop.signal, () => hold.cancel.abort(), spooled)
  try {
    const driver = await ports.openDriver(work, pace, trouble)
    const stop = AbortSignal.any([signal, hold.cancel.signal])
    const shown = new AbortController()
    const showing = showScreen({ client: ports.client, agentId: id, attemptId }, hold, driver, AbortSignal.any([shown.signal, hold.drop.signal]))
    const meet: Meet = (meeting) => ports.client.meet(id, attemptId, { lease, ...meeting }, AbortSignal.any([stop, hold.drop.signal]))
    const result = await runAttempt(work, { driver, pace, sink: reporter, agent: name, signal: stop, gate: hold.gate, meet })
    shown.abort()
    await showing
    hold.finishing = true
    // Stopped because this process ends: the work is not cancelled, another agent takes it when the lease runs out.
    if (!(signal.aborted && result.outcome === 'cancelled')) return await reporter.finish(result, signal.aborted || trouble.isLost ? undefined : seat)
    await reporter.flush()
  } catch (error) {
    if (error instanceof LeaseLost) ports.say(`${name}: the result of attempt ${attemptId} came too late and was refused`)
    else if (!hold.drop.signal.aborted) {
      ports.say(`${name}: ${(error as Error).message}`)
      await reporter.finish({ outcome: 'errored', failure: { kind: 'agent', message: `The agent could not carry it out: ${(error as Error).message.split('\n')[0]}` }, ms: pace.now() }).catch(() => {})
    }
  } finally {
    if (!signal.aborted || reporter.isEmpty) spooled?.end() // what could not be sent before this process ends waits for the next one
    hold.drop.abort()
    held.delete(attemptId)
  }
  return undefined
}

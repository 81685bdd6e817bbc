/** One agent: registers, gives signs of life, and keeps its seats busy until told to stop. */
import { randomUUID } from 'node:crypto'
import { AGENT_PROTOCOL, type AttemptResult, type Work } from '@/core/execution'
import { describeDuration } from '@/core/model'
import { realPace } from './driver/port'
import { Held } from './held'
import { runAttempt, type Meet } from './interpreter'
import { deliverLeftovers } from './leftovers'
import type { AgentPorts } from './ports'
import { openChannel } from './live/channel'
import { LeaseLost, pause, Refused, type HeartbeatAnswer, type Registration } from './protocol/client'
import { fitting } from './protocol/fitting'
import { Reporter } from './protocol/reporter'
import type { Carried } from './pulse/pulse'
import { FaultInjection } from './fault-injection'
import { showScreen } from './watch'

export type AgentOptions = Omit<Registration, 'instance' | 'protocol'>
/** Beyond the time of its case an attempt has this long: for undo steps, evidence and its end. Then its
 * browser is ended. */
const OVERDUE_MS = 35_000

/** Shared by all seats of an agent. */
type Agent = {
  id: string
  name: string
  held: Map<string, Held>
  faults: FaultInjection
  ports: AgentPorts
  signal: AbortSignal
}

/** Serves until `signal` aborts; then what is in hand is stopped, reported as cancelled, and the agent
 * ends. */
export async function runAgent(options: AgentOptions, ports: AgentPorts, signal: AbortSignal): Promise<void> {
  const { client, say, pulse } = ports
  const { name, seats } = options
  await deliverLeftovers(name, ports, signal)
  const registration = { ...options, protocol: AGENT_PROTOCOL, instance: randomUUID() }
  const { id, heartbeatMs } = await client.register(registration, signal)
  say(`${name}: ready, ${seats} ${seats === 1 ? 'seat' : 'seats'}, serves ${options.environments.join(', ')}`)
  const agent: Agent = { id, name, held: new Map(), faults: new FaultInjection(), ports, signal }
  pulse.begin(id, heartbeatMs, {
    answer: (asked, answer) => hear(agent, asked, answer),
    overdue: (attemptId) => endOverdue(agent, attemptId),
  })
  await Promise.all([
    ...Array.from({ length: seats }, (_, i) => serveSeat(agent, i + 1)),
    beLostWhenTold(agent),
  ])
}

/** What a heartbeat brought back. */
function hear({ held, faults, ports }: Agent, asked: string[], answer: HeartbeatAnswer): void {
  faults.set(answer.misbehaviours ?? [])
  for (const attemptId of asked) {
    const hold = held.get(attemptId)
    if (!hold) continue
    const commands = answer.commands.filter((one) => one.attemptId === attemptId)
    const dropped = commands.some(({ command }) => command === 'drop')
    if (dropped && !hold.finishing) ports.say(`attempt ${attemptId} is not ours any more; dropped`)
    hold.obey(commands)
  }
}

/** It did not end by itself; its browser, where there is one here, was ended. */
function endOverdue({ held, name, ports }: Agent, attemptId: string): void {
  const hold = held.get(attemptId)
  if (!hold || hold.overdue) return
  hold.overdue = true
  ports.say(
    `${name}: attempt ${attemptId} did not end in ` +
      `time${hold.mark === undefined ? '' : '; its browser was ended'}`,
  )
}

const LOOK_MS = 250

/** A simulated agent with the injected fault `lost`: neither sends nor receives until it is over. */
async function beLostWhenTold({ id, held, faults, ports, signal }: Agent): Promise<void> {
  while (!signal.aborted) {
    await pause(LOOK_MS, signal)
    if (!faults.isLost) continue
    ports.say('lost, as it was told to be: nothing is heard or said')
    ports.pulse.silence(id, true)
    for (const one of held.values()) one.give()
    await faults.untilFound(signal)
    ports.pulse.silence(id, false)
  }
}

async function serveSeat(agent: Agent, seat: number): Promise<void> {
  const { faults, signal, ports, id, name } = agent
  let next: Work | undefined
  while (!signal.aborted) {
    await faults.untilFound(signal)
    if (next) {
      next = await carryOut(agent, seat, next)
      continue
    }
    const answer = await ports.client.claim(id, seat, signal).catch((error: Error) => {
      if (!signal.aborted) ports.say(`${name}: claim failed: ${error.message}`)
      return pause(1000, signal)
    })
    next = answer?.work ?? undefined
  }
}

/** @returns the seat's next work, when the server has given it with the answer to this one */
async function carryOut(agent: Agent, seat: number, work: Work): Promise<Work | undefined> {
  const { id, name, held, faults, ports, signal } = agent
  const { attemptId, lease } = work
  const hold = new Held(lease)
  const pace = realPace()
  hold.overdueAt = Date.now() + work.limitMs + OVERDUE_MS
  held.set(attemptId, hold)
  tellPulse(agent)
  const spooled = ports.spool?.begin({ agent: name, agentId: id, attemptId, lease })
  const onLost = () => hold.cancel.abort()
  const reporter = new Reporter(ports.client, id, work, ports.sent, hold.drop.signal, onLost, spooled)
  try {
    const { driver, mark } = await ports.openDriver(work, pace, faults, `${name}/${seat}`)
    hold.mark = mark
    tellPulse(agent)
    const stop = AbortSignal.any([signal, hold.cancel.signal])
    const shown = new AbortController()
    const screens = AbortSignal.any([shown.signal, hold.drop.signal])
    const showing = showScreen({ client: ports.client, agentId: id, attemptId }, hold, driver, screens)
    const meet: Meet = (meeting) =>
      ports.client.meet(
        id,
        attemptId,
        { lease, ...fitting(meeting) },
        AbortSignal.any([stop, hold.drop.signal]),
      )
    /** Pauses and recoveries give a case more time. */
    const onStep = (untilMs: number) => {
      const overdueAt = Date.now() + (untilMs - pace.now()) + OVERDUE_MS
      if (Math.abs(overdueAt - hold.overdueAt!) < LOOK_MS) return
      hold.overdueAt = overdueAt
      tellPulse(agent)
    }
    hold.gate.onChange = (closed) => {
      hold.overdueAt = closed ? undefined : Date.now() + work.limitMs + OVERDUE_MS
      tellPulse(agent)
    }
    const ended = await runAttempt(work, {
      driver,
      pace,
      sink: reporter,
      agent: name,
      signal: stop,
      gate: hold.gate,
      meet,
      onStep,
      ...(work.live && { live: () => openChannel(ports.client.liveLine(id, { attemptId, lease })) }),
      ...(ports.outgoing && { outgoing: ports.outgoing }),
    })
    shown.abort()
    await showing
    hold.finishing = true
    const result = hold.overdue ? overdueResult(work, ended, mark !== undefined) : ended
    // Stopped because this process ends: the work is not cancelled, another agent takes it when the lease
    // runs out.
    if (!(signal.aborted && result.outcome === 'cancelled')) {
      return await reporter.finish(result, signal.aborted || faults.isLost ? undefined : seat)
    }
    await reporter.flush()
  } catch (error) {
    if (error instanceof LeaseLost) {
      ports.say(`${name}: the result of attempt ${attemptId} came too late and was refused`)
    } else if (!hold.drop.signal.aborted) {
      const why = (error as Error).message.split('\n')[0]!
      ports.say(`${name}: ${why}`)
      if (error instanceof Refused) spooled?.setAside()
      const said =
        error instanceof Refused
          ? 'The server does not take what this attempt has to say'
          : 'The agent could not carry it out'
      await reporter.abandon(`${said}: ${why}`, pace.now()).catch(() => {})
    }
  } finally {
    // what could not be sent before this process ends waits for the next one
    if (!signal.aborted || reporter.isEmpty) spooled?.end()
    hold.drop.abort()
    held.delete(attemptId)
    tellPulse(agent)
  }
  return undefined
}

function tellPulse({ id, held, ports }: Agent): void {
  const carried = [...held].map(([attemptId, { lease, overdueAt, mark }]): Carried => ({
    attemptId,
    lease,
    ...(overdueAt !== undefined && { overdueAt }),
    ...(mark !== undefined && { mark }),
  }))
  ports.pulse.carries(id, carried)
}

/** Whatever failed when its browser was ended, this is why. */
const overdueResult = (
  { limitMs }: Work,
  { ms, failure }: AttemptResult,
  endedBrowser: boolean,
): AttemptResult => ({
  outcome: 'errored',
  ms,
  failure: {
    ...(failure?.path !== undefined && { path: failure.path }),
    kind: 'time-limit',
    message:
      `The case took longer than ${describeDuration(limitMs)}, and its page did not ` +
      `stop${endedBrowser ? ': its browser was ended' : ''}`,
  },
})

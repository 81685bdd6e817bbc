/** What an earlier process of an agent could not send. */
import { LeaseLost, Refused } from './protocol/client'
import type { AgentPorts } from './ports'
import { Reporter } from './protocol/reporter'
import type { Leftover } from './protocol/spool'

/** Time limit of delivering one of them while the server answers: leftovers must not keep an agent from its
 * work. */
const DELIVERY_MS = 60_000

/** Sends it before the agent registers anew: with that, what the earlier process held is given up. What the
 * server does not take is set aside, for a person to look at. */
export async function deliverLeftovers(name: string, ports: AgentPorts, signal: AbortSignal): Promise<void> {
  const { client, spool, say } = ports
  const left = spool?.leftoversOf(name) ?? []
  if (left.length > 0) await client.untilThere(signal)
  for (const one of left) {
    const limit = AbortSignal.timeout(DELIVERY_MS)
    try {
      await deliver(one, ports, AbortSignal.any([signal, limit]))
      say(
        `${name}: attempt ${one.attemptId} of before is delivered${one.result ? '' : ', as far as it came'}`,
      )
      spool!.drop(one)
    } catch (error) {
      if (signal.aborted) return
      if (error instanceof LeaseLost) {
        say(`${name}: attempt ${one.attemptId} of before is not wanted any more`)
        spool!.drop(one)
      } else {
        const why = error instanceof Refused ? error.message : 'it was not taken in time'
        say(`${name}: attempt ${one.attemptId} of before is set aside in ${spool!.setAside(one)}: ${why}`)
        await client
          .abandon(one, `What an earlier process of the agent had to say is not taken: ${why}`, signal)
          .catch(() => {})
      }
    }
  }
}

async function deliver(
  left: Leftover,
  { client, sent, spool }: AgentPorts,
  signal: AbortSignal,
): Promise<void> {
  const { agentId, events, pieces, result } = left
  const reporter = new Reporter(client, agentId, left, sent, signal, () => {})
  for (const [hash, mime] of pieces) {
    const bytes = spool!.readPiece(hash)
    if (bytes) reporter.evidence({ hash, mime, bytes })
  }
  for (const event of events) reporter.event(event)
  if (result) await reporter.finish(result)
  else await reporter.flush()
}

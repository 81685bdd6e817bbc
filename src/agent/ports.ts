/** What an agent stands on: the server, browsers, its pulse, and what it keeps on disk. */
import type { Work } from '@/core/execution'
import type { OutgoingPolicy } from '@/node/outgoing'
import type { Pace } from './driver/port'
import type { Opened } from './engines'
import type { ProtocolClient } from './protocol/client'
import type { SentHashes } from './protocol/reporter'
import type { Spool } from './protocol/spool'
import type { PulsePort } from './pulse/port'
import type { FaultInjection } from './fault-injection'

export type AgentPorts = {
  client: ProtocolClient
  /** @param seat names it among all seats of the process */
  openDriver(work: Work, pace: Pace, faults: FaultInjection, seat: string): Promise<Opened>
  sent: SentHashes
  pulse: PulsePort
  /** Where steps may connect to. */
  outgoing?: OutgoingPolicy
  spool?: Spool
  say(text: string): void
}

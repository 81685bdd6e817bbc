import type { DefectSight, FinderHit, FleetSight } from '@/core/sights'
import { listAgents, seatsByEnvironment } from '@/db/agents'
import { listEnvironments } from '@/db/workspace'
import { find } from '@/db/finder'
import type { DefectRow } from '@/db/defects'
import type { Context } from '../context'
import { seatTile } from './now'

export async function fleetSight(ctx: Context, server: string): Promise<FleetSight> {
  const [agents, environments, seats] = await Promise.all([listAgents(ctx.db, ctx.leaseMs), listEnvironments(ctx.db), seatsByEnvironment(ctx.db, ctx.leaseMs)])
  return {
    now: new Date().toISOString(),
    server,
    environments: environments.map(({ key, title, simulated }) => ({ key, title, simulated, seats: seats.get(key) ?? 0 })),
    agents: agents.map((agent) => ({
      id: agent.id, name: agent.name, pool: agent.pool, seats: agent.seats, environments: agent.environments, simulated: agent.simulated, draining: agent.draining, alive: agent.alive,
      heartbeatAt: new Date(agent.heartbeatAt).toISOString(), version: agent.version,
      work: agent.work.map((work) => ({ ...seatTile(agent, work), seat: work.seat, runId: work.runId })),
    })),
  }
}

export function defectSight({ createdAt, sentAt, ...row }: DefectRow): DefectSight {
  return { ...row, createdAt: createdAt.toISOString(), sentAt: sentAt?.toISOString() ?? null }
}

const HITS_MOST = 30

/** What the finder offers for some words; nothing for none. */
export async function finderSight(ctx: Context, words: string): Promise<FinderHit[]> {
  const text = words.trim().slice(0, 100)
  return text === '' ? [] : find(ctx.db, text, HITS_MOST)
}

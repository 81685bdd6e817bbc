import type { DefectViewModel, FinderHit, FleetViewModel } from '@/core/view-models'
import { busyLately, listAgents, seatsByEnvironment, type Busy } from '@/db/agents'
import { listEnvironments } from '@/db/workspace'
import { find } from '@/db/finder'
import type { DefectRow } from '@/db/defects'
import { heldNow } from '@/core/execution'
import { findHelp, helpSummary, type HelpPage } from '@/core/help'
import type { Context } from '../context'
import { CLOCK_OFF_MS } from '../dispatch'
import { seatTile } from './now'

const HOURS = 24
const HOUR_MS = 3_600_000

export async function fleetViewModel(ctx: Context, server: string): Promise<FleetViewModel> {
  const [agents, environments, seats, busy] = await Promise.all([
    listAgents(ctx.db, ctx.leaseMs),
    listEnvironments(ctx.db),
    seatsByEnvironment(ctx.db, ctx.leaseMs),
    busyLately(ctx.db, HOURS),
  ])
  const pools = [...new Set(agents.map(({ pool }) => pool))]
  const share = (rows: Busy[], of: number, hours: number) =>
    of === 0 ? 0 : Math.min(1, rows.reduce((sum, { ms }) => sum + ms, 0) / (of * hours * HOUR_MS))
  return {
    now: new Date().toISOString(),
    server,
    environments: environments.map(({ facts }) => ({ ...facts, seats: seats.get(facts.key) ?? 0 })),
    cover: environments.flatMap(({ key }) =>
      pools.flatMap((pool) => {
        const able = agents
          .filter(
            (agent) =>
              agent.alive && !agent.draining && agent.pool === pool && agent.environments.includes(key),
          )
          .reduce((sum, agent) => sum + agent.seats, 0)
        const worked = busy.filter((row) => row.pool === pool && row.environment === key)
        return able > 0 || worked.length > 0
          ? [{ environment: key, pool, seats: able, busy: share(worked, able, HOURS) }]
          : []
      }),
    ),
    agents: agents.map((agent) => {
      const own = busy.filter((row) => row.agent === agent.name)
      return {
        id: agent.id,
        name: agent.name,
        pool: agent.pool,
        seats: agent.seats,
        environments: agent.environments,
        simulated: agent.simulated,
        through: agent.through,
        draining: agent.draining,
        paused: agent.paused,
        alive: agent.alive,
        heartbeatAt: new Date(agent.heartbeatAt).toISOString(),
        version: agent.version,
        labels: agent.labels,
        clockOffMs: Math.abs(agent.clockOffMs) > CLOCK_OFF_MS ? agent.clockOffMs : 0,
        misbehaviours: heldNow(agent.misbehaviours, new Date().toISOString()),
        missing: agent.missing,
        busy: Array.from({ length: HOURS }, (_, i) =>
          share(
            own.filter(({ hour }) => hour === HOURS - 1 - i),
            agent.seats,
            1,
          ),
        ),
        work: agent.work.map((work) => ({ ...seatTile(agent, work), seat: work.seat, runId: work.runId })),
      }
    }),
  }
}

export function defectViewModel({ createdAt, sentAt, trackerReadAt, ...row }: DefectRow): DefectViewModel {
  return {
    ...row,
    createdAt: createdAt.toISOString(),
    sentAt: sentAt?.toISOString() ?? null,
    trackerReadAt: trackerReadAt?.toISOString() ?? null,
  }
}

const HITS_MOST = 30
const HELP_MOST = 6

const helpHit = (page: HelpPage): FinderHit => ({
  kind: 'help',
  title: page.title,
  detail: helpSummary(page),
  href: `/help?page=${page.key}`,
})

/** What the finder offers for some words; nothing for none. */
export async function finderViewModel(ctx: Context, words: string): Promise<FinderHit[]> {
  const text = words.trim().slice(0, 100)
  if (text === '') return []
  const help = findHelp(text).slice(0, HELP_MOST)
  return [...(await find(ctx.db, text, HITS_MOST)), ...help.map(helpHit)]
}

import {
  attemptsOfOtherInstance,
  beat,
  changeAgent,
  removeAgent,
  setDraining,
  setPaused,
  upsertAgent,
  type AgentRow,
  type Registration,
} from '@/db/agents'
import { heldNow, protocolRefusal, PROTOCOLS_SERVED, type InjectedFault } from '@/core/execution'
import { markPaused, renewLeases, type Hold, type Renewed } from '@/db/dispatch'
import { note } from '@/db/audit'
import { notify } from '@/db/notify'
import type { Context } from '../context'
import { Problem } from '../http/problems'
import { endLost } from './finish'

/** Registers an agent, or the next process of a known one: what its earlier process held is given to others
 * at once.
 * A pool that its token was made for holds against the one it names: secrets are given by pool.
 * @throws {Problem} PROTOCOL_UNSERVED, AGENT_NAME_TAKEN, ENVIRONMENT_NOT_GIVEN */
export async function registerAgent(
  ctx: Context,
  {
    id: tokenId,
    scope,
    environments: given = [],
    pool = '',
  }: { id: string; scope?: string; environments?: string[]; pool?: string },
  { protocol = 1, ...registration }: Registration & { protocol?: number },
): Promise<AgentRow> {
  const refusal = protocolRefusal(protocol)
  if (refusal) throw new Problem('PROTOCOL_UNSERVED', refusal, { served: PROTOCOLS_SERVED })
  if (scope && scope !== registration.name)
    throw new Problem(
      'AGENT_NAME_TAKEN',
      `This token is for the agent “${scope}” alone; “${registration.name}” needs one of its own.`,
    )
  const foreign = given.length === 0 ? [] : registration.environments.filter((key) => !given.includes(key))
  if (foreign.length > 0)
    throw new Problem(
      'ENVIRONMENT_NOT_GIVEN',
      `The token of “${registration.name}” is not for ${foreign.join(', ')}; it is for ${given.join(', ')}.`,
    )
  const agent = await upsertAgent(
    ctx.db,
    tokenId,
    { ...registration, pool: pool || registration.pool },
    ctx.now,
  )
  if (!agent)
    throw new Problem(
      'AGENT_NAME_TAKEN',
      `The name “${registration.name}” belongs to an agent of another token; choose another name.`,
    )
  await endLost(ctx, await attemptsOfOtherInstance(ctx.db, agent.id), 'the agent was started anew')
  await notify(ctx.db, 'fleet')
  return agent
}

/** `cancel`: stop, with undo steps or without. `end`: stop, for another role did not pass. `pause`: for as
 * long as it is said. `watch`: somebody looks at its screen, for as long as it is said. */
export type Command = { attemptId: string } & (
  | { command: 'cancel'; undo: boolean }
  | { command: 'end'; because: string }
  | { command: 'drop' | 'pause' | 'watch' }
)
export type HeartbeatAnswer = {
  draining: boolean
  commands: Command[]
  /** For a simulated agent: what it is to do wrong, and how much longer. */ misbehaviours?: (Omit<
    InjectedFault,
    'until'
  > & { forMs: number })[]
}
export type Beat = { attempts: Omit<Hold, 'agentId'>[]; /** What its clock says, ISO 8601. */ clock?: string }

/** A clock so far off is worth a word; less is the way of the message. */
export const CLOCK_OFF_MS = 30_000

/** Renews the leases of what an agent holds; brings back what it is to do about them. What is not told to
 * pause goes on. */
export async function heartbeat(
  ctx: Context,
  agent: AgentRow,
  { attempts: holds, clock }: Beat,
): Promise<HeartbeatAnswer> {
  const [now, renewed] = await Promise.all([
    beat(ctx.db, agent.id, ctx.now, clock),
    renewLeases(ctx.db, agent.id, holds, ctx.now, ctx.leaseMs),
  ])
  const known = new Set(renewed.map(({ id }) => id))
  const misbehaviours = heldNow(agent.misbehaviours, now)
  return {
    draining: agent.draining,
    commands: [
      ...holds.flatMap(({ attemptId }): Command[] =>
        known.has(attemptId) ? [] : [{ attemptId, command: 'drop' }],
      ),
      ...renewed.flatMap(commandsFor),
    ],
    ...(misbehaviours.length > 0 && {
      misbehaviours: misbehaviours.map(({ until, ...order }) => ({
        ...order,
        forMs: Date.parse(until) - Date.parse(now),
      })),
    }),
  }
}

function commandsFor({ id: attemptId, cancelling, noUndo, told, paused, watched }: Renewed): Command[] {
  if (cancelling) return [{ attemptId, command: 'cancel', undo: !noUndo }]
  if (told !== null) return [{ attemptId, command: 'end', because: told }]
  return [
    ...(paused ? [{ attemptId, command: 'pause' as const }] : []),
    ...(watched ? [{ attemptId, command: 'watch' as const }] : []),
  ]
}

/** Moves an agent to another pool, or gives it labels. @throws {Problem} NOT_FOUND */
export async function editAgent(
  ctx: Context,
  agentId: string,
  change: { pool?: string; labels?: string[] },
  who: string,
): Promise<void> {
  await ctx.db.transaction(async (tx) => {
    const name = await changeAgent(tx, agentId, change)
    if (name === undefined) throw new Problem('NOT_FOUND', 'There is no such agent.')
    await note(tx, who, 'agent.change', name, change)
    await notify(tx, 'fleet')
    await notify(tx, 'work')
  })
}

/** Takes an agent that is gone out of the fleet. What it did stays in history. @throws {Problem} NOT_FOUND
 * while it is here, or when there is none */
export async function forgetAgent(ctx: Context, agentId: string, who: string): Promise<void> {
  await ctx.db.transaction(async (tx) => {
    const name = await removeAgent(tx, agentId, ctx.leaseMs)
    if (name === undefined)
      throw new Problem(
        'NOT_FOUND',
        'This agent is here: end its process first, else it is back with its next heartbeat. To keep ' +
          'work from it, drain it.',
      )
    await note(tx, who, 'agent.remove', name)
    await notify(tx, 'fleet')
  })
}

/** A draining agent ends what it has and takes nothing new. @throws {Problem} NOT_FOUND */
export async function drainAgent(
  ctx: Context,
  agentId: string,
  draining: boolean,
  who: string,
): Promise<void> {
  await ctx.db.transaction(async (tx) => {
    if (!(await setDraining(tx, agentId, draining))) throw new Problem('NOT_FOUND', 'There is no such agent.')
    await note(tx, who, draining ? 'agent.drain' : 'agent.resume', agentId)
    await notify(tx, 'fleet')
    await notify(tx, 'work')
  })
}

/** What a paused agent has waits before its next step, and it takes nothing new. With a pool: every agent in
 * it. @throws {Problem} NOT_FOUND */
export async function pauseAgents(
  ctx: Context,
  which: { id: string } | { pool: string },
  paused: boolean,
  who: string,
): Promise<void> {
  await ctx.db.transaction(async (tx) => {
    const changed = await setPaused(tx, which, paused)
    if (changed.length === 0)
      throw new Problem(
        'NOT_FOUND',
        'id' in which ? 'There is no such agent.' : `There is no agent in the pool “${which.pool}”.`,
      )
    for (const { id } of changed) await markPaused(tx, { agentId: id })
    await note(tx, who, paused ? 'agent.pause' : 'agent.go-on', 'id' in which ? changed[0]!.name : which.pool)
    await notify(tx, 'fleet')
    await notify(tx, 'run')
    await notify(tx, 'work')
  })
}

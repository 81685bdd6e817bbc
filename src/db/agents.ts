import { and, eq, isNull, sql } from 'drizzle-orm'
import type { InjectedFault } from '@/core/execution'
import { environmentOfAttempt } from './played'
import { asyncCommit } from './async-commit'
import type { Conn } from './client'
import { agents, attempts } from './schema'
import type { Now } from './moment'
import { col, rowsOf, type RowOf } from './rows'

export type AgentRow = typeof agents.$inferSelect
export type Registration = Pick<
  AgentRow,
  'name' | 'instance' | 'pool' | 'version' | 'seats' | 'environments' | 'simulated'
> &
  Partial<Pick<AgentRow, 'missing' | 'through'>>

/** Adds the agent, or takes over its name if the token is the same one. Its pool is where it begins: once it
 * is known, people say where it is.
 * @returns `undefined` when the name belongs to another token */
export async function upsertAgent(
  db: Conn,
  tokenId: string,
  registration: Registration,
  now: Now,
): Promise<AgentRow | undefined> {
  const values = {
    ...registration,
    missing: registration.missing ?? [],
    through: registration.through ?? null,
    tokenId,
    heartbeatAt: sql`${now}`,
    removedAt: null,
  }
  const { pool: _, ...known } = values
  const [row] = await db
    .insert(agents)
    .values(values)
    .onConflictDoUpdate({ target: agents.name, set: known, setWhere: eq(agents.tokenId, tokenId) })
    .returning()
  return row
}

/** @param clock what the agent's own clock says; how far it is off is noted. @returns what ours says, ISO
 * 8601 */
export async function beat(db: Conn, agentId: string, now: Now, clock?: string): Promise<string> {
  const off =
    clock === undefined
      ? {}
      : {
          clockOffMs: sql`least(2147483647,
            greatest(-2147483647, round(extract(epoch from ${clock}::timestamptz - ${now}) * 1000)))::int`,
        }
  const [row] = await db
    .update(agents)
    .set({ heartbeatAt: sql`${now}`, ...off })
    .where(eq(agents.id, agentId))
    .returning({ now: agents.heartbeatAt, asyncCommit })
  return (row?.now ?? new Date()).toISOString()
}

/** What an agent does on one of its seats. `state`: of the case run. */
type SeatWork = {
  attemptId: string
  state: 'claimed' | 'running' | 'paused'
  seat: number
  runId: number
  title: string
  environment: string
  atStep: string | null
  screen: string | null
  startedAt: string
  estimateMs: number
}
const AGENT = {
  id: col.text,
  name: col.text,
  tokenId: col.orNull(col.text),
  instance: col.text,
  pool: col.text,
  version: col.text,
  seats: col.integer,
  environments: col.texts,
  simulated: col.flag,
  draining: col.flag,
  labels: col.texts,
  missing: col.json<AgentRow['missing']>(),
  through: col.orNull(col.text),
  paused: col.flag,
  clockOffMs: col.integer,
  misbehaviours: col.json<InjectedFault[]>(),
  heartbeatAt: col.moment,
  createdAt: col.moment,
  alive: col.flag,
  work: col.json<SeatWork[]>(),
}
export type AgentViewModel = RowOf<typeof AGENT>

/** All agents with what their seats do now, in one query. `aliveMs`: silence that counts as lost. */
export async function listAgents(db: Conn, aliveMs: number): Promise<AgentViewModel[]> {
  return rowsOf(
    db,
    AGENT,
    sql`
    select a.id, a.name, a.token_id as "tokenId", a.instance, a.pool, a.version, a.seats, a.environments,
      a.simulated, a.draining, a.labels, a.missing, a.through, a.paused, a.clock_off_ms as "clockOffMs",
      a.misbehaviours,
           a.heartbeat_at as "heartbeatAt", a.created_at as "createdAt",
             a.heartbeat_at > now() - ${aliveMs} * interval '1 ms' as alive,
           coalesce(jsonb_agg(jsonb_build_object('attemptId', t.id, 'seat', t.seat, 'runId', t.run_id,
             'title', c.title || case when t.role = '' then '' else ', ' || t.role end, 'environment',
             ${environmentOfAttempt},
             'atStep', t.at_step, 'screen', t.screen, 'startedAt', t.claimed_at, 'state', c.state,
               'estimateMs', c.estimate_ms) order by t.seat) filter (where t.id is not null), '[]') as work
    from agents a
    left join attempts t on t.agent_id = a.id and t.state <> 'ended'
    left join case_runs c on c.id = t.case_run_id
    where a.removed_at is null
    group by a.id order by a.pool, a.name`,
  )
}

/** Seats of live, not draining agents by environment. */
export async function seatsByEnvironment(db: Conn, aliveMs: number): Promise<Map<string, number>> {
  const rows = await rowsOf(
    db,
    { environment: col.text, seats: col.integer },
    sql`
    select environment, sum(seats)::int as seats from agents, unnest(environments) as environment
    where not draining and removed_at is null and heartbeat_at > now() - ${aliveMs} * interval '1 ms'
      group by environment`,
  )
  return new Map(rows.map(({ environment, seats }) => [environment, seats]))
}

export const setDraining = async (db: Conn, agentId: string, draining: boolean): Promise<boolean> =>
  ((await db.update(agents).set({ draining }).where(eq(agents.id, agentId))).rowCount ?? 0) === 1

export const setPaused = async (
  db: Conn,
  which: { id: string } | { pool: string },
  paused: boolean,
): Promise<{ id: string; name: string }[]> =>
  await db
    .update(agents)
    .set({ paused })
    .where('id' in which ? eq(agents.id, which.id) : eq(agents.pool, which.pool))
    .returning({ id: agents.id, name: agents.name })

export const listAgentNames = async (db: Conn): Promise<string[]> =>
  (await db.select({ name: agents.name }).from(agents)).map(({ name }) => name)
export const agentById = async (db: Conn, id: string): Promise<AgentRow | undefined> =>
  (await db.select().from(agents).where(eq(agents.id, id)))[0]
export const setMisbehaviours = async (db: Conn, id: string, misbehaviours: InjectedFault[]): Promise<void> =>
  void (await db.update(agents).set({ misbehaviours }).where(eq(agents.id, id)))

export const changeAgent = async (
  db: Conn,
  agentId: string,
  change: { pool?: string; labels?: string[] },
): Promise<string | undefined> =>
  (await db.update(agents).set(change).where(eq(agents.id, agentId)).returning({ name: agents.name }))[0]
    ?.name

/** Takes an agent that is not heard from out of the fleet; what it did stays. @returns `undefined` when there
 * is none, or it is here */
export const removeAgent = async (db: Conn, agentId: string, aliveMs: number): Promise<string | undefined> =>
  (
    await db
      .update(agents)
      .set({ removedAt: sql`now()` })
      .where(
        and(
          eq(agents.id, agentId),
          isNull(agents.removedAt),
          sql`heartbeat_at <= now() - ${aliveMs} * interval '1 ms'`,
        ),
      )
      .returning({ name: agents.name })
  )[0]?.name

const BUSY = {
  agent: col.text,
  pool: col.text,
  environment: col.text,
  hour: col.integer,
  ms: col.number,
}
export type Busy = RowOf<typeof BUSY>

/** How long seats worked, by agent, environment and hour back from now (0: the last one). Served by
 * attempts_lately. */
export async function busyLately(db: Conn, hours: number): Promise<Busy[]> {
  return rowsOf(
    db,
    BUSY,
    sql`
    select a.name as agent, a.pool, ${environmentOfAttempt} as environment, h.hour,
      sum(extract(epoch from (
        least(coalesce(t.ended_at, now()), now() - h.hour * interval '1 hour')
        - greatest(t.claimed_at, now() - (h.hour + 1) * interval '1 hour'))) * 1000)::float8 as ms
    from attempts t join agents a on a.id = t.agent_id and a.removed_at is null
      join case_runs c on c.id = t.case_run_id
    join generate_series(0, ${hours - 1}::int) as h(hour)
      on t.claimed_at < now() - h.hour * interval '1 hour'
      and coalesce(t.ended_at, now()) > now() - (h.hour + 1) * interval '1 hour'
    where t.claimed_at > now() - ${hours + 2} * interval '1 hour' group by 1, 2, 3, 4`,
  )
}

/** Open attempts an earlier process of this agent held: they cannot go on. */
export const attemptsOfOtherInstance = async (
  db: Conn,
  agentId: string,
): Promise<{ agentId: string; attemptId: string; lease: number }[]> =>
  await db
    .select({ agentId: attempts.agentId, attemptId: attempts.id, lease: attempts.lease })
    .from(attempts)
    .where(and(eq(attempts.agentId, agentId), sql`${attempts.state} <> 'ended'`))

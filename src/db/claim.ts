/** Who gets what next. A claim is one statement: two never get the same case run. */
import { and, eq, getTableColumns, inArray, sql } from 'drizzle-orm'
import { statesBefore, type FreeSeats, type RunState } from '@/core/execution'
import type { AgentRow } from './agents'
import type { Tx } from './client'
import {
  GATHERING,
  HELD_NAMES,
  isForAgent,
  isFree,
  mayTake,
  ORDER_IN_RUN,
  RUN_IS_OPEN,
  seatsOfRotation,
  WAITS_FOR_ONE,
  WAITS_FOR_ROLES,
} from './claim-rules'
import { attempts, caseRuns, exclusiveHolds } from './schema'
import { later, type Now } from './moment'
import { col, rowsOf } from './rows'

export type CaseRunRow = typeof caseRuns.$inferSelect
export type AttemptRow = typeof attempts.$inferSelect
/** The columns of a claim that the work is made from, and the columns of an end that decide what follows. */
export type ClaimedCaseRun = Pick<
  CaseRunRow,
  | 'id'
  | 'runId'
  | 'position'
  | 'caseKey'
  | 'environment'
  | 'phase'
  | 'rowIndex'
  | 'row'
  | 'parameters'
  | 'needs'
  | 'limitMs'
  | 'policies'
  | 'roles'
  | 'roleEnvironments'
>
export type ClaimedAttempt = Pick<AttemptRow, 'id' | 'agentId' | 'lease' | 'number' | 'role' | 'claimedAt'>
export type EndedCaseRun = Pick<CaseRunRow, 'runId' | 'phase' | 'environment' | 'scopes'>

/** Candidates read from each index: so many claims may hold a row lock each before the next claim finds none.
 */
const LOOKED_AT = 8
const gathering = sql.raw(GATHERING)
const list = (values: readonly string[]) => sql`${sql.param(values)}::text[]`

/** The seats of an agent that are in use, and what was assigned to it and not told yet; `undefined` while it
 * drains or is paused.
 * Locks the agent's row, so that one agent's claims come one after the other. */
export async function seatsOf(
  tx: Tx,
  agentId: string,
): Promise<{ pool: string; used: number[]; assigned: string | null } | undefined> {
  const [agent] = await rowsOf(
    tx,
    { pool: col.text, closed: col.flag, used: col.integers, assigned: col.orNull(col.text) },
    sql`
    select a.pool, a.draining or a.paused as closed, t.used, t.assigned from agents a
    cross join lateral (select coalesce(array_agg(seat), '{}') as used, min(id::text)
      filter (where state = 'assigned') as assigned from attempts where agent_id = a.id
      and state <> 'ended') t
    where a.id = ${agentId} for update of a`,
  )
  return agent && (!agent.closed || agent.assigned !== null) ? agent : undefined
}

export type Taken = CaseRunRow & { runState: RunState; runPool: string | null }

/** Takes the next case run for an agent, or `undefined`.
 * Order: the run's priority; the rotation that has the fewest seats now; the older run; the agent's own lane
 * of the plan, then what other lanes are latest with; the time the plan has it for.
 * A joint case for which seats are being kept goes before everything.
 * @param attemptId of the attempt that will be made of it */
export async function takeNextCaseRun(
  tx: Tx,
  { name, pool, environments }: Pick<AgentRow, 'name' | 'pool' | 'environments'>,
  now: Now,
  { attemptId, joint }: { attemptId: string; joint: boolean },
): Promise<Taken | undefined> {
  const mayTakeIt = sql.raw(mayTake(HELD_NAMES))
  const order = sql.raw(ORDER_IN_RUN)
  const places = [
    sql`(select c.*, true as own from case_runs c
      where ${sql.raw(WAITS_FOR_ONE)} and c.lane_agent = me.name and c.environment = any(me.environments)
        and ${mayTakeIt}
      order by ${order}, c.environment limit ${LOOKED_AT})`,
    sql`(select x.* from unnest(me.environments) e cross join lateral (
      select c.*, false as own from case_runs c
      where ${sql.raw(WAITS_FOR_ONE)} and c.environment = e and ${mayTakeIt} order by ${order}
        limit ${LOOKED_AT}) x)`,
    ...(joint
      ? [
          sql`(select c.*, c.lane_agent = me.name as own from case_runs c
      where ${sql.raw(WAITS_FOR_ROLES)} and c.role_environments && me.environments
        and ${sql.raw(isForAgent)} and ${sql.raw(isFree(HELD_NAMES))}
        and (c.gathering_at is null or moment - c.gathering_at not between ${gathering} and 2 * ${gathering})
      limit ${LOOKED_AT})`,
        ]
      : []),
  ]
  const isOpen = sql.raw(RUN_IS_OPEN)
  const next = sql`(
    with me as (select ${name}::text as name, ${pool}::text as pool, ${list(environments)} as environments,
      ${now} as moment),
    open as (
      select o.id, o.phase, o.priority, o.pool, o.state,
        case when (select count(*) from runs where ${isOpen}) > 1 then ${sql.raw(seatsOfRotation('o'))}
          else 0 end as busy
      from runs o, me where o.${isOpen} and not o.paused and coalesce(o.pool, me.pool) = me.pool
    ), found as materialized (
      select c.id, c.own, o.priority as of_run, o.busy, o.state, o.pool
      from me cross join open o cross join lateral (${sql.join(places, sql` union all `)}) c
    )
    select c.id, f.state, f.pool from found f join case_runs c on c.id = f.id where c.state = 'waiting'
    order by (c.gathering_at is not null) desc, f.of_run desc, f.busy, c.run_id, f.own desc, ${order},
      c.environment
    limit 1 for update of c skip locked) as next`
  const [row] = await tx
    .update(caseRuns)
    .set({ state: 'claimed', attempts: sql`${caseRuns.attempts} + 1`, shownAttempt: attemptId })
    .from(next)
    .where(sql`${caseRuns.id} = next.id`)
    .returning({
      ...getTableColumns(caseRuns),
      runState: sql<RunState>`next.state`,
      runPool: sql<string | null>`next.pool`,
    })
  if (row && row.exclusive.length > 0)
    await tx.insert(exclusiveHolds).values(row.exclusive.map((held) => ({ name: held, caseRunId: row.id })))
  return row
}

/** Undoes a claim of a case run that cannot be begun, as if it had not been claimed. */
export async function putBack(tx: Tx, caseRun: CaseRunRow): Promise<void> {
  await tx
    .update(caseRuns)
    .set({
      state: 'waiting',
      attempts: caseRun.attempts - 1,
      shownAttempt: sql`(select min(t.id::text)::uuid from attempts t where t.case_run_id = ${caseRun.id}
        and t.number = ${caseRun.attempts - 1})`,
    })
    .where(eq(caseRuns.id, caseRun.id))
  if (caseRun.exclusive.length > 0)
    await tx.delete(exclusiveHolds).where(eq(exclusiveHolds.caseRunId, caseRun.id))
}

/** Agents that are here and may take roles of a joint case, with their free seats; locked, but for those
 * another claim has. `first` comes first. */
export async function freeSeats(
  tx: Tx,
  {
    first,
    pool,
    only,
    environments,
    aliveMs,
  }: { first: string; pool: string | null; only: string; environments: readonly string[]; aliveMs: number },
): Promise<(FreeSeats & { id: string; used: number[] })[]> {
  const rows = await rowsOf(
    tx,
    { id: col.text, name: col.text, environments: col.texts, seats: col.integer, used: col.integers },
    sql`
    with here as (
      select id, name, environments, seats from agents w where environments && ${list(environments)}
        and not draining and not paused and removed_at is null
        and (name = ${first} or heartbeat_at > now() - ${aliveMs} * interval '1 ms')
          and (${pool}::text is null or pool = ${pool}) and (${only} in ('', name))
      order by name <> ${first}, name for update skip locked)
    select h.*, array(select seat from attempts t where t.agent_id = h.id and t.state <> 'ended') as used
      from here h`,
  )
  return rows.map(({ id, name, environments: served, seats, used }) => ({
    id,
    agent: name,
    environments: served,
    used,
    free: Math.max(0, seats - used.length),
  }))
}

/** Keeps seats free for a joint case from now on, unless another one has that already. @returns whether this
 * one has it */
export async function gather(tx: Tx, caseRunId: string, now: Now): Promise<boolean> {
  const { rowCount } = await tx.execute(sql`
    update case_runs c set gathering_at = case when c.gathering_at is null
      or ${now} - c.gathering_at > ${gathering} then ${now} else c.gathering_at end
    where c.id = ${caseRunId} and not exists (select from case_runs g where g.id <> c.id
      and g.state = 'waiting' and g.roles <> '{}' and ${now} - g.gathering_at <= ${gathering})`)
  return rowCount === 1
}

export type NewAttempt = {
  id?: string
  caseRun: CaseRunRow
  agentId: string
  agentName: string
  seat: number
  role?: string
  state?: 'assigned' | 'claimed'
}

export async function addAttempts(
  tx: Tx,
  wanted: readonly NewAttempt[],
  now: Now,
  leaseMs: number,
): Promise<AttemptRow[]> {
  return await tx
    .insert(attempts)
    .values(
      wanted.map(({ caseRun, role = '', state = 'claimed', ...rest }) => ({
        ...rest,
        role,
        state,
        caseRunId: caseRun.id,
        runId: caseRun.runId,
        number: caseRun.attempts,
        lease: caseRun.attempts,
        claimedAt: sql`${now}`,
        leasedUntil: later(now, leaseMs),
      })),
    )
    .returning()
}

/** Tells an agent of the seat that was given to it. @returns what it is to do there */
export async function takeAssigned(
  tx: Tx,
  attemptId: string,
  now: Now,
  leaseMs: number,
): Promise<{ attempt: AttemptRow; caseRun: CaseRunRow } | undefined> {
  const [attempt] = await tx
    .update(attempts)
    .set({ state: 'claimed', claimedAt: sql`${now}`, leasedUntil: later(now, leaseMs) })
    .where(and(eq(attempts.id, attemptId), inArray(attempts.state, statesBefore('attempt', 'take'))))
    .returning()
  if (!attempt) return undefined
  const [caseRun] = await tx.select().from(caseRuns).where(eq(caseRuns.id, attempt.caseRunId))
  return { attempt, caseRun: caseRun! }
}

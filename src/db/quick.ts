/** Two statements that run hundreds of times a second: the ordinary claim and the ordinary end, each whole in one statement.
 * Their text is made once, and PostgreSQL plans it once for each connection. What is not ordinary they leave as it is, and say so: then claim.ts and settle.ts do it step by step. */
import { getTableColumns, type Column } from 'drizzle-orm'
import type { Pool } from 'pg'
import { evidenceOf, type NumberedEvent, type Outcome } from '@/core/execution'
import { GATHERING_SECONDS, LOOKED_AT, type AttemptRow, type CaseRunRow } from './claim'
import type { Hold } from './dispatch'
import { attempts, caseRuns } from './schema'

/** All columns of a table, by their names here. A name is never taken from outside. */
const columns = (of: string, table: Record<string, Column>, prefix: string) => Object.entries(table).map(([name, { name: column }]) => `${of}.${column} as "${prefix}${name}"`).join(', ')
const [CASE_RUN, ATTEMPT] = ['caseRun.', 'attempt.']

const HERE = `not w.draining and not w.paused and w.removed_at is null and w.heartbeat_at > now() - interval '1 minute'`
const MAY_TAKE = `c.agent in ('', me.name) and (c.exclusive = '{}' or not c.exclusive && array(select name from exclusive_holds))
  and (c.wish_agent in ('', me.name) or not exists (select from agents w where w.name = c.wish_agent and ${HERE}))
  and (c.avoid_agent <> me.name or not exists (select from agents w where w.name <> me.name and c.environment = any(w.environments) and (o.pool is null or w.pool = o.pool) and ${HERE}))`
const WAITS = `c.run_id = o.id and c.phase = o.phase and c.state = 'waiting' and c.ready`

/** $1 agent, $2 seat it asks for, $3 id of the attempt, $4 milliseconds of a lease. See takeNextCaseRun for the order. */
const CLAIM = `
with me as (select id, name, pool, seats, environments from agents where id = $1 and not draining and not paused),
used as (select coalesce(array_agg(seat), '{}') as seats, count(*) filter (where state = 'assigned') > 0 as assigned from attempts where agent_id = $1 and state <> 'ended'),
seat as (select n from me, used, generate_series(1, me.seats) n where n <> all(used.seats) and not used.assigned order by n is distinct from $2::int, n limit 1),
open as (
  select r.id, r.phase, r.priority, r.pool, case when (select count(*) from runs where state in ('waiting', 'running')) > 1 then
    (select count(*) from attempts t join runs s on s.id = t.run_id where t.state <> 'ended' and coalesce(s.rotation_key, s.id::text) = coalesce(r.rotation_key, r.id::text)) else 0 end as busy
  from runs r, me where exists (select from seat) and r.state in ('waiting', 'running') and not r.paused and coalesce(r.pool, me.pool) = me.pool),
found as materialized (
  select c.id, c.own, o.priority as of_run, o.busy from open o, me cross join lateral (
    (select c.*, true as own from case_runs c where ${WAITS} and c.roles = '{}' and c.lane_agent = me.name and c.environment = any(me.environments) and ${MAY_TAKE} order by c.lane_ms, c.position limit ${LOOKED_AT})
    union all
    (select x.* from unnest(me.environments) e cross join lateral (
      select c.*, false as own from case_runs c where ${WAITS} and c.roles = '{}' and c.environment = e and ${MAY_TAKE} order by c.lane_ms, c.position limit ${LOOKED_AT}) x)
    union all
    (select c.*, c.lane_agent = me.name as own from case_runs c where ${WAITS} and c.roles <> '{}' and c.role_environments && me.environments and ${MAY_TAKE}
      and (c.gathering_at is null or now() - c.gathering_at not between interval '${GATHERING_SECONDS} s' and interval '${2 * GATHERING_SECONDS} s') limit ${LOOKED_AT})
  ) c),
next as (
  select c.id, c.roles = '{}' and c.needs = '{}' as ordinary from found f join case_runs c on c.id = f.id where c.state = 'waiting'
  order by (c.gathering_at is not null) desc, f.of_run desc, f.busy, c.run_id, f.own desc, c.lane_ms, c.priority desc, c.position, c.environment limit 1 for update of c skip locked),
taken as (update case_runs c set state = 'claimed', attempts = c.attempts + 1, shown_attempt = $3::uuid from next where c.id = next.id and next.ordinary returning c.*),
held as (insert into exclusive_holds (name, case_run_id) select unnest(exclusive), id from taken),
begun as (update runs r set state = 'running', started_at = now() from taken where r.id = taken.run_id and r.state = 'waiting'),
made as (
  insert into attempts (id, case_run_id, run_id, number, agent_id, agent_name, seat, lease, leased_until, state, claimed_at)
  select $3, taken.id, taken.run_id, taken.attempts, me.id, me.name, seat.n, taken.attempts, now() + $4 * interval '1 ms', 'claimed', now() from taken, me, seat returning *)
select (select assigned from used) or exists (select from next where not ordinary) as "else", ${columns('taken', getTableColumns(caseRuns), CASE_RUN)}, ${columns('made', getTableColumns(attempts), ATTEMPT)}
from (select) one left join taken on true left join made on true`

export type QuickClaim = { caseRun: CaseRunRow; attempt: AttemptRow } | 'nothing' | 'else'

/** @param seat the one it would have, if it is free
 * @returns `else`: what goes first is not ordinary (a joint case, handoffs to take, a seat that was assigned); nothing was taken */
export async function claimQuickly(pool: Pool, { agentId, seat, attemptId, leaseMs }: { agentId: string; seat: number | undefined; attemptId: string; leaseMs: number }): Promise<QuickClaim> {
  const { rows: [row] } = await pool.query<Record<string, unknown>>({ name: 'claim', text: CLAIM, values: [agentId, seat ?? null, attemptId, leaseMs] })
  if (row![`${CASE_RUN}id`] === null) return row!.else ? 'else' : 'nothing'
  return { caseRun: part<CaseRunRow>(row!, CASE_RUN), attempt: part<AttemptRow>(row!, ATTEMPT) }
}

/** $1 attempt, $2 lease, $3 its last events, $4 what the case run ends with, $5 and $6 step and screen it ended at, $7 and $8 evidence it shows and of which kind. */
const PASS = `
with ended as (
  update attempts t set state = 'ended', outcome = 'passed', ended_at = now(), started_at = coalesce(t.started_at, t.claimed_at), at_step = coalesce($5, t.at_step), screen = coalesce($6, t.screen)
  where t.id = $1 and t.lease = $2 and t.state <> 'ended' and t.number = 1 and t.role = '' and t.recoveries = '[]' returning t.*),
logged as (insert into events (attempt_id, no, body) select ended.id, (e->>'no')::int, e - 'no' from ended, jsonb_array_elements($3::jsonb) e on conflict do nothing),
shown as (insert into evidence_uses (attempt_id, hash, kind) select ended.id, u.hash, u.kind from ended, unnest($7::text[], $8::text[]) u(hash, kind) on conflict do nothing),
done as (
  update case_runs c set state = 'ended', outcome = $4, ended_at = now(), started_at = coalesce(c.started_at, ended.started_at), duration_ms = greatest(0, round(extract(epoch from now() - ended.started_at) * 1000))::int
  from ended where c.id = ended.case_run_id and c.state <> 'ended' returning c.*),
freed as (delete from exclusive_holds x using done where x.case_run_id = done.id and done.exclusive <> '{}')
select ${columns('done', getTableColumns(caseRuns), CASE_RUN)}, r.ordered from done join runs r on r.id = done.run_id`

/** Ends an attempt that passed at once: what follows needs no judgement.
 * @param last its last events, stored with the end or not at all
 * @returns the case run that ended with it; `undefined` when it is not so ordinary, or not held: then nothing was written */
export async function passQuickly(pool: Pool, { attemptId, lease }: Hold, outcome: Outcome, last: { events: readonly NumberedEvent[]; atStep?: string; screen?: string }): Promise<{ caseRun: CaseRunRow; ordered: boolean } | undefined> {
  const uses = last.events.flatMap((event) => evidenceOf(event) ?? [])
  const { rows: [row] } = await pool.query<Record<string, unknown>>({
    name: 'pass', text: PASS, values: [attemptId, lease, JSON.stringify(last.events), outcome, last.atStep ?? null, last.screen ?? null, uses.map(({ hash }) => hash), uses.map(({ kind }) => kind)],
  })
  return row && { caseRun: part<CaseRunRow>(row, CASE_RUN), ordered: row.ordered as boolean }
}

const part = <T>(row: Record<string, unknown>, prefix: string): T => Object.fromEntries(Object.entries(row).flatMap(([name, value]) => (name.startsWith(prefix) ? [[name.slice(prefix.length), value]] : []))) as T

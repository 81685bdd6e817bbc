/** The fast path of dispatch: the statements that run hundreds of times a second (look up an agent by its
 * token, claim, finish a passed attempt), each one statement. They are prepared once per connection of a pool
 * of their own. A claim or an end that is not ordinary they leave unchanged and report it; claim.ts and
 * endings.ts then do it step by step. */
import { getTableColumns, type Column } from 'drizzle-orm'
import type { Pool } from 'pg'
import { evidenceOf, type NumberedEvent, type Outcome } from '@/core/execution'
import type { AgentRow } from './agents'
import type { AttemptRow, CaseRunRow, ClaimedAttempt, ClaimedCaseRun, EndedCaseRun } from './claim'
import type { Hold } from './dispatch'
import { ASYNC_COMMIT_SQL } from './async-commit'
import type { Now } from './moment'
import { agents, attempts, caseRuns } from './schema'

/** Some columns of a table, by their names here, each with a prefix; and how to take them out of a row
 * again. */
function partOf<T, K extends keyof T & string>(
  table: Record<K, Column>,
  prefix: string,
  names: readonly K[],
) {
  const parts = names.map((name) => ({ name, column: table[name].name, as: `${prefix}.${name}` }))
  return {
    columns: (of: string) => parts.map(({ column, as }) => `${of}.${column} as "${as}"`).join(', '),
    of: (row: Record<string, unknown>) =>
      Object.fromEntries(parts.map(({ name, as }) => [name, row[as]])) as Pick<T, K>,
  }
}
const agentPart = partOf<AgentRow, keyof AgentRow>(
  getTableColumns(agents),
  'agent',
  Object.keys(getTableColumns(agents)) as (keyof AgentRow)[],
)
const caseRunPart = partOf<CaseRunRow, keyof ClaimedCaseRun>(getTableColumns(caseRuns), 'caseRun', [
  'id',
  'runId',
  'position',
  'caseKey',
  'environment',
  'phase',
  'rowIndex',
  'row',
  'parameters',
  'needs',
  'limitMs',
  'policies',
  'roles',
  'roleEnvironments',
])
const attemptPart = partOf<AttemptRow, keyof ClaimedAttempt>(getTableColumns(attempts), 'attempt', [
  'id',
  'agentId',
  'lease',
  'number',
  'role',
  'claimedAt',
])
const endedPart = partOf<CaseRunRow, keyof EndedCaseRun>(getTableColumns(caseRuns), 'caseRun', [
  'runId',
  'phase',
  'environment',
  'scopes',
])

const AGENT = `select ${agentPart.columns('a')}, t.id as "token", t.used_at as "usedAt" from agents a
  join tokens t on t.id = a.token_id where a.id = $1 and t.hash = $2 and t.purpose = 'agent'
  and t.revoked_at is null`

/** The agent a token speaks for, if both are known and the token is not revoked. */
export async function agentOfToken(
  pool: Pool,
  id: string,
  hash: string,
): Promise<{ agent: AgentRow; token: { id: string; usedAt: Date | null } } | undefined> {
  const {
    rows: [row],
  } = await pool.query<Record<string, unknown>>({ name: 'agent', text: AGENT, values: [id, hash] })
  return (
    row && { agent: agentPart.of(row), token: { id: row.token as string, usedAt: row.usedAt as Date | null } }
  )
}

/** The claim itself is a function of the database (claim-function.ts). Names held alone wait for the disk:
 * nobody else may have them after a crash. */
const CLAIM = `select q.something_else as "else", ${caseRunPart.columns('(q.taken)')},
  ${attemptPart.columns('(q.made)')}, case when (q.taken).exclusive = '{}' then ${ASYNC_COMMIT_SQL} end
  from claim_ordinary($1, $2, $3, $4, $5) q`

export type FastClaim = { caseRun: ClaimedCaseRun; attempt: ClaimedAttempt } | 'nothing' | 'else'

/** @param seat the one it would have, if it is free
 * @returns `else`: what goes first is not ordinary (a joint case, handoffs to take, a seat that was
 * assigned); nothing was taken */
export async function claimFast(
  pool: Pool,
  {
    agentId,
    seat,
    attemptId,
    leaseMs,
    now,
  }: { agentId: string; seat: number | undefined; attemptId: string; leaseMs: number; now: Now },
): Promise<FastClaim> {
  const client = await pool.connect()
  try {
    const {
      rows: [row],
    } = await client.query<Record<string, unknown>>({
      name: 'claim',
      text: CLAIM,
      values: [agentId, seat ?? null, attemptId, leaseMs, now.moment],
    })
    if (row!['caseRun.id'] === null) return row!.else ? 'else' : 'nothing'
    return { caseRun: caseRunPart.of(row!), attempt: attemptPart.of(row!) }
  } catch (error) {
    // PostgreSQL tells an error before it lets go of the rows it locked: others would still pass them by
    await client.query('select').catch(() => undefined) // it may be the connection that broke
    throw error
  } finally {
    client.release()
  }
}

/** Concurrent ends are fewer than this: with so many case runs open, none of the ends is the last. */
const ENDS_AT_ONCE = 100

/** $9 agent, $1 attempt, $2 lease, $3 its last events, $4 what the case run ends with, $5 and $6 step and
 * screen it ended at, $7 and $8 evidence it shows and of which kind, $10 when, or null: now. */
const PASS = `
with clock as (select coalesce($10::timestamptz, now()) as moment),
ended as (
  update attempts t set state = 'ended', outcome = 'passed', ended_at = clock.moment,
    reported_at = clock.moment, started_at = coalesce(t.started_at, t.claimed_at),
    at_step = coalesce($5, t.at_step), screen = coalesce($6, t.screen)
  from clock where t.id = $1 and t.lease = $2 and t.agent_id = $9 and t.state <> 'ended' and t.number = 1
    and t.role = '' and t.recoveries = '[]' returning t.*),
logged as (insert into events (attempt_id, no, body) select ended.id, (e->>'no')::int, e - 'no'
  from ended, jsonb_array_elements($3::jsonb) e on conflict do nothing),
shown as (insert into evidence_uses (attempt_id, hash, kind) select ended.id, u.hash, u.kind
  from ended, unnest($7::text[], $8::text[]) u(hash, kind) on conflict do nothing),
done as (
  update case_runs c set state = 'ended', outcome = $4, ended_at = ended.ended_at,
    started_at = coalesce(c.started_at, ended.started_at),
    duration_ms = greatest(0, round(extract(epoch from ended.ended_at - ended.started_at) * 1000))::int
  from ended where c.id = ended.case_run_id and c.state <> 'ended' returning c.*),
freed as (delete from exclusive_holds x using done where x.case_run_id = done.id and done.exclusive <> '{}')
select ${endedPart.columns('done')}, r.ordered,
  (select count(*) from (select 1 from case_runs o where o.run_id = done.run_id and o.phase = done.phase
  and o.state <> 'ended' limit ${ENDS_AT_ONCE}) open) < ${ENDS_AT_ONCE} as last
from done join runs r on r.id = done.run_id`

/** Ends an attempt that passed at once: what follows needs no judgement.
 * @param last its last events, stored with the end or not at all
 * @returns the case run that ended with it; `undefined` when it is not so ordinary, or not held: then nothing
 * was written */
export async function finishPassedFast(
  pool: Pool,
  { agentId, attemptId, lease }: Hold,
  outcome: Outcome,
  last: { events: readonly NumberedEvent[]; atStep?: string; screen?: string },
  now: Now,
): Promise<
  | {
      caseRun: EndedCaseRun
      ordered: boolean
      /** It may be the last of its phase: one has to look. */ last: boolean
    }
  | undefined
> {
  const uses = last.events.flatMap((event) => evidenceOf(event) ?? [])
  const {
    rows: [row],
  } = await pool.query<Record<string, unknown>>({
    name: 'pass',
    text: PASS,
    values: [
      attemptId,
      lease,
      JSON.stringify(last.events),
      outcome,
      last.atStep ?? null,
      last.screen ?? null,
      uses.map(({ hash }) => hash),
      uses.map(({ kind }) => kind),
      agentId,
      now.moment,
    ],
  })
  return row && { caseRun: endedPart.of(row), ordered: row.ordered as boolean, last: row.last as boolean }
}

/** Claiming, holding and giving up work. Every write by a holder checks in the same statement that it still holds. */
import { and, asc, eq, getTableColumns, inArray, lt, ne, or, sql } from 'drizzle-orm'
import type { AttemptOutcome, Failure, NumberedEvent, Outcome } from '@/core/execution'
import type { Conn, Tx } from './client'
import type { AgentRow } from './agents'
import { addEvidenceUses } from './evidence'
import { tellOfRun } from './hooks'
import { agents, attempts, caseRuns, exclusiveHolds, handoffs, runs, type Recovery } from './schema'
import { later, type Now } from './moment'

export type CaseRunRow = typeof caseRuns.$inferSelect
export type AttemptRow = typeof attempts.$inferSelect
/** What a holder must show. */
export type Hold = { attemptId: string; lease: number }

const held = ({ attemptId, lease }: Hold) => and(eq(attempts.id, attemptId), eq(attempts.lease, lease), ne(attempts.state, 'ended'))

/** A second try that wants the same agent, or any but that one, gets it as long as there is one that is here. */
const wishedFor = (name: string) => sql`(${caseRuns.wishAgent} in ('', ${name}) or not exists (select from agents w where w.name = ${caseRuns.wishAgent} and ${HERE}))
  and (${caseRuns.avoidAgent} <> ${name} or not exists (select from agents w where w.name <> ${name} and ${caseRuns.environment} = any(w.environments) and (${runs.pool} is null or w.pool = ${runs.pool}) and ${HERE}))`
const HERE = sql`not w.draining and not w.paused and w.removed_at is null and w.heartbeat_at > now() - interval '1 minute'`

/** Takes the next case run these environments can serve, or `undefined`. One statement: two claims never get the same row.
 * Plan order: priority, then older runs, then position. Names held alone by others are stepped over. */
export async function takeNextCaseRun(tx: Tx, { name, pool, environments }: Pick<AgentRow, 'name' | 'pool' | 'environments'>): Promise<CaseRunRow | undefined> {
  const next = tx.$with('next').as(
    tx.select({ id: caseRuns.id }).from(caseRuns).innerJoin(runs, eq(runs.id, caseRuns.runId))
      .where(and(
        eq(caseRuns.state, 'waiting'),
        inArray(runs.state, ['waiting', 'running']),
        inArray(caseRuns.environment, environments),
        eq(caseRuns.phase, runs.phase),
        eq(runs.paused, false),
        inArray(caseRuns.agent, ['', name]),
        wishedFor(name),
        sql`coalesce(${runs.pool}, ${pool}) = ${pool}`,
        sql`not ${caseRuns.exclusive} && array(select name from ${exclusiveHolds})`,
        sql`(cardinality(${caseRuns.after}) = 0 or not exists (select 1 from case_runs d where d.run_id = ${caseRuns.runId} and d.environment = ${caseRuns.environment} and d.state <> 'ended' and d.scopes && ${caseRuns.after}))`,
      ))
      .orderBy(sql`${caseRuns.priority} desc`, asc(caseRuns.runId), asc(caseRuns.position), asc(caseRuns.environment))
      .limit(1)
      .for('update', { of: caseRuns, skipLocked: true }),
  )
  const [row] = await tx.with(next).update(caseRuns)
    .set({ state: 'claimed', attempts: sql`${caseRuns.attempts} + 1` })
    .from(next).where(eq(caseRuns.id, next.id)).returning(getTableColumns(caseRuns))
  if (row && row.exclusive.length > 0) await tx.insert(exclusiveHolds).values(row.exclusive.map((name) => ({ name, caseRunId: row.id })))
  return row
}

/** Seats of an agent that are in use, or `undefined` while it drains or is paused. Locks the agent's row, so that one agent's claims come one after the other. */
export async function seatsInUse(tx: Tx, agentId: string): Promise<{ pool: string; used: number[] } | undefined> {
  const [agent] = await tx.select({ draining: agents.draining, paused: agents.paused, pool: agents.pool }).from(agents).where(eq(agents.id, agentId)).for('update')
  if (!agent || agent.draining || agent.paused) return undefined
  const rows = await tx.select({ seat: attempts.seat }).from(attempts).where(and(eq(attempts.agentId, agentId), ne(attempts.state, 'ended')))
  return { pool: agent.pool, used: rows.map((row) => row.seat) }
}

export async function addAttempt(tx: Tx, attempt: { caseRun: CaseRunRow; agentId: string; agentName: string; seat: number; seed: number }, now: Now, leaseMs: number): Promise<AttemptRow> {
  const { caseRun, ...rest } = attempt
  const [row] = await tx.insert(attempts).values({
    ...rest, caseRunId: caseRun.id, runId: caseRun.runId, number: caseRun.attempts, lease: caseRun.attempts,
    state: 'claimed', claimedAt: sql`${now}`, leasedUntil: later(now, leaseMs),
  }).returning()
  return row!
}

/** Renews what is still held. @returns ids that are not held any more, ids whose run is being cancelled, and ids that are to wait */
export async function renewLeases(db: Conn, holds: Hold[], now: Now, leaseMs: number): Promise<{ lost: string[]; cancelled: string[]; paused: string[] }> {
  if (holds.length === 0) return { lost: [], cancelled: [], paused: [] }
  const pairs = sql.join(holds.map((hold) => sql`(${hold.attemptId}::uuid, ${hold.lease}::int)`), sql`, `)
  const { rows } = await db.execute<{ id: string; cancelling: boolean; paused: boolean }>(sql`
    update attempts t set leased_until = ${later(now, leaseMs)} from runs r, agents a
    where r.id = t.run_id and a.id = t.agent_id and t.state <> 'ended' and (t.id, t.lease) in (${pairs})
    returning t.id, r.state = 'cancelling' as cancelling, r.paused or a.paused as paused`)
  const renewed = new Set(rows.map((row) => row.id))
  return { lost: holds.map((hold) => hold.attemptId).filter((id) => !renewed.has(id)), cancelled: rows.filter((row) => row.cancelling).map((row) => row.id), paused: rows.filter((row) => row.paused && !row.cancelling).map((row) => row.id) }
}

/** The attempt, locked against ending, if the hold is good. */
export const lockHeld = async (tx: Tx, hold: Hold): Promise<AttemptRow | undefined> =>
  (await tx.select().from(attempts).where(held(hold)).for('no key update'))[0]

/** Adds uses of recovery rules; one that is there already (a batch sent twice) is left as it is. */
export async function noteRecoveries(tx: Tx, attempt: AttemptRow, found: readonly Recovery[]): Promise<void> {
  const fresh = found.filter(({ no }) => !attempt.recoveries.some((known) => known.no === no))
  if (fresh.length > 0) await tx.update(attempts).set({ recoveries: [...attempt.recoveries, ...fresh] }).where(eq(attempts.id, attempt.id))
}

/** What an agent has of a run or on itself waits, or goes on: said of the case runs, so that everybody sees it. */
export async function markPaused(tx: Tx, which: { runId: number } | { agentId: string }): Promise<void> {
  await tx.execute(sql`
    update case_runs c set state = case when r.paused or a.paused then 'paused' else 'running' end
    from attempts t, runs r, agents a where t.case_run_id = c.id and t.state = 'running' and r.id = t.run_id and a.id = t.agent_id and c.state in ('running', 'paused')
      and ${'runId' in which ? sql`t.run_id = ${which.runId}` : sql`t.agent_id = ${which.agentId}`}`)
}

export async function noteProgress(tx: Tx, attempt: AttemptRow, progress: { atStep?: string; screen?: string }, now: Now): Promise<void> {
  const begins = attempt.state === 'claimed'
  if (!begins && Object.keys(progress).length === 0) return
  await tx.update(attempts).set({ ...progress, ...(begins && { state: 'running' as const, startedAt: sql`${now}` }) }).where(eq(attempts.id, attempt.id))
  if (begins) {
    // It may have been paused between its claim and now.
    const state = sql<'running' | 'paused'>`case when (select r.paused from runs r where r.id = ${attempt.runId}) or (select a.paused from agents a where a.id = ${attempt.agentId}) then 'paused' else 'running' end`
    await tx.update(caseRuns).set({ state, startedAt: sql`coalesce(${caseRuns.startedAt}, ${now})` })
      .where(and(eq(caseRuns.id, attempt.caseRunId), eq(caseRuns.state, 'claimed')))
  }
}

/** Stores events; a number already there is left as it is, so a batch is safe to send twice. One parameter, however many events. */
export async function addEvents(tx: Tx, attemptId: string, batch: readonly NumberedEvent[]): Promise<void> {
  if (batch.length === 0) return
  await tx.execute(sql`insert into events (attempt_id, no, body)
    select ${attemptId}::uuid, (e->>'no')::int, e - 'no' from jsonb_array_elements(${JSON.stringify(batch)}::jsonb) e on conflict do nothing`)
  await addEvidenceUses(tx, attemptId, batch)
}

/** Ends an attempt if the hold is good. @returns `undefined` if it is not; then nothing was written */
export async function endAttempt(tx: Tx, hold: Hold, end: { outcome: AttemptOutcome; failure?: Failure }, now: Now): Promise<AttemptRow | undefined> {
  const [row] = await tx.update(attempts).set({ state: 'ended', outcome: end.outcome, endedAt: sql`${now}`, ...failureColumns(end.failure), failureTag: end.failure?.tag ?? null, failureApplication: end.failure?.application ?? null }).where(held(hold)).returning()
  return row
}

/** Notes that an answer came too late; the first one is kept. */
export async function noteLate(db: Conn, { attemptId, lease }: Hold, outcome: AttemptOutcome): Promise<void> {
  await db.update(attempts).set({ lateResult: outcome }).where(and(eq(attempts.id, attemptId), eq(attempts.lease, lease), eq(attempts.failureKind, 'agent'), sql`${attempts.lateResult} is null`))
}

/** Open attempts whose lease ran out. Locked and skipped when another process looks at them too. */
export const expiredHolds = async (tx: Tx, now: Now, most: number): Promise<Hold[]> =>
  await tx.select({ attemptId: attempts.id, lease: attempts.lease }).from(attempts)
    .where(and(ne(attempts.state, 'ended'), lt(attempts.leasedUntil, sql`${now}`))).limit(most).for('update', { skipLocked: true })

export const attemptsOf = async (tx: Conn, caseRunId: string): Promise<AttemptRow[]> =>
  await tx.select().from(attempts).where(eq(attempts.caseRunId, caseRunId)).orderBy(asc(attempts.number))

/** The run's state, locked: all ends of one run's case runs happen one after the other, so the last one sees it is the last. */
export async function lockRun(tx: Tx, runId: number) {
  const [row] = await tx.select({ id: runs.id, state: runs.state, retries: runs.retries, retryOn: runs.retryOn, retryAgent: runs.retryAgent, phase: runs.phase, stopAfter: runs.stopAfter }).from(runs).where(eq(runs.id, runId)).for('update')
  return row!
}

export async function releaseHolds(tx: Tx, caseRunId: string): Promise<void> {
  await tx.delete(exclusiveHolds).where(eq(exclusiveHolds.caseRunId, caseRunId))
}

/** @param wish which agent the next try is to have, if that matters */
export async function waitAgain(tx: Tx, caseRunId: string, wish: { wishAgent?: string; avoidAgent?: string } = {}): Promise<void> {
  await tx.update(caseRuns).set({ state: 'waiting', ...wish }).where(and(eq(caseRuns.id, caseRunId), ne(caseRuns.state, 'ended')))
}

export async function endCaseRun(tx: Tx, caseRunId: string, end: { outcome: Outcome; failure?: Partial<Failure> }, now: Now): Promise<void> {
  await tx.update(caseRuns).set({
    state: 'ended', outcome: end.outcome, endedAt: sql`${now}`, ...failureColumns(end.failure),
    durationMs: sql`(select greatest(0, round(extract(epoch from (t.ended_at - coalesce(t.started_at, t.claimed_at))) * 1000))::int from attempts t where t.case_run_id = ${caseRunId} order by t.number desc limit 1)`,
  }).where(and(eq(caseRuns.id, caseRunId), ne(caseRuns.state, 'ended')))
}

/** Ends a case run that was taken and then could not be run: no attempt was made. */
export async function endUnrun(tx: Tx, caseRunId: string, why: string, now: Now): Promise<void> {
  await tx.update(caseRuns).set({ state: 'ended', outcome: 'skipped', endedAt: sql`${now}`, attempts: sql`${caseRuns.attempts} - 1`, failureMessage: why }).where(and(eq(caseRuns.id, caseRunId), eq(caseRuns.state, 'claimed')))
}

/** Ends what waits behind a case run that did not pass, and what waits behind that: the rest of the scopes it takes with it, or all of the run when it stops it.
 * @returns how many were skipped */
export async function skipBehind(tx: Tx, caseRun: Pick<CaseRunRow, 'runId' | 'environment' | 'title' | 'skips' | 'stops'>, now: Now): Promise<number> {
  const { runId, environment, title } = caseRun
  let skipped = 0
  let next: Pick<CaseRunRow, 'skips' | 'stops'>[] = [caseRun]
  while (next.length > 0) {
    const scopes = [...new Set(next.flatMap(({ skips }) => skips))]
    const stops = next.some((one) => one.stops)
    if (scopes.length === 0 && !stops) break
    const behind = and(eq(caseRuns.environment, environment), sql`${caseRuns.scopes} && ${sql.param(scopes)}::text[]`)
    const rows = await tx.update(caseRuns)
      .set({ state: 'ended', outcome: 'skipped', endedAt: sql`${now}`, failureMessage: stops ? `“${title}” did not pass, which stops the run` : `“${title}” did not pass` })
      .where(and(eq(caseRuns.runId, runId), eq(caseRuns.state, 'waiting'), stops ? undefined : behind))
      .returning({ skips: caseRuns.skips, stops: caseRuns.stops })
    skipped += rows.length
    next = rows.map((row) => ({ ...row, stops: false })) // what was never run cannot stop anything
  }
  return skipped
}

/** Does anything of this run wait for others to be over? */
export async function anyWaitsBehind(tx: Tx, runId: number): Promise<boolean> {
  const { rows } = await tx.execute(sql`select 1 from case_runs where run_id = ${runId} and state = 'waiting' and cardinality(after) > 0 limit 1`)
  return rows.length > 0
}

/** Stands for every environment in handoffs of what comes before all; no environment has such a key. */
const EVERYWHERE = '*'

export async function addHandoffs(tx: Tx, caseRun: CaseRunRow, values: Record<string, string>): Promise<void> {
  // What comes before all is done once, for every environment.
  const environment = caseRun.phase < 0 ? EVERYWHERE : caseRun.environment
  const rows = Object.entries(values).map(([name, value]) => ({ runId: caseRun.runId, environment, rowIndex: caseRun.rowIndex, caseRunId: caseRun.id, name, value }))
  if (rows.length > 0) await tx.insert(handoffs).values(rows)
}

/** The handoffs a case run takes: from its own row where there is one, else the newest; and all that came before all. */
export async function takeHandoffs(db: Conn, caseRun: CaseRunRow): Promise<Record<string, string>> {
  const rows = await db.selectDistinctOn([handoffs.name], { name: handoffs.name, value: handoffs.value }).from(handoffs)
    .where(and(eq(handoffs.runId, caseRun.runId), or(eq(handoffs.environment, EVERYWHERE), and(eq(handoffs.environment, caseRun.environment), inArray(handoffs.name, caseRun.needs)))))
    .orderBy(handoffs.name, sql`${handoffs.environment} = ${caseRun.environment} desc`, sql`${handoffs.rowIndex} is not distinct from ${caseRun.rowIndex} desc`, sql`${handoffs.id} desc`)
  return Object.fromEntries(rows.map(({ name, value }) => [name, value]))
}

/** Ends the run when nothing of it is open any more. @returns whether it ended now */
export async function endRunIfDone(tx: Tx, runId: number, now: Now): Promise<boolean> {
  const done = await tx.update(runs).set({ state: 'ended', endedAt: sql`${now}` })
    .where(and(eq(runs.id, runId), ne(runs.state, 'ended'), sql`not exists (select 1 from case_runs c where c.run_id = ${runId} and c.state <> 'ended')`))
  if (done.rowCount !== 1) return false
  await tellOfRun(tx, 'run.ended', runId)
  await tellOfRun(tx, 'failure.new', runId)
  return true
}

export async function beginRun(tx: Tx, runId: number, now: Now): Promise<void> {
  await tx.update(runs).set({ state: 'running', startedAt: sql`${now}` }).where(and(eq(runs.id, runId), eq(runs.state, 'waiting')))
}

/** Skips what waits in a phase, and says why the run ended early. */
export async function skipPhase(tx: Tx, runId: number, phase: number, why: string, now: Now): Promise<void> {
  await tx.update(caseRuns).set({ state: 'ended', outcome: 'skipped', endedAt: sql`${now}`, failureMessage: why }).where(and(eq(caseRuns.runId, runId), eq(caseRuns.phase, phase), eq(caseRuns.state, 'waiting')))
  await tx.update(runs).set({ endedWhy: sql`coalesce(${runs.endedWhy}, ${why})` }).where(eq(runs.id, runId))
}

/** Goes on to the next phase in which something is open, when nothing is in this one. @returns whether it did */
export async function moveToNextPhase(tx: Tx, runId: number): Promise<boolean> {
  const moved = await tx.execute(sql`update runs r set phase = n.phase from (select min(phase) as phase from case_runs where run_id = ${runId} and state <> 'ended') n where r.id = ${runId} and n.phase > r.phase`)
  return moved.rowCount === 1
}

export async function countFailures(tx: Tx, runId: number): Promise<number> {
  return tx.$count(caseRuns, and(eq(caseRuns.runId, runId), inArray(caseRuns.outcome, ['failed', 'errored']), eq(caseRuns.quarantined, false)))
}

/** Runs that go on for longer than they may. */
export const overdueRuns = async (tx: Tx, now: Now): Promise<{ id: number; runLimitMs: number | null }[]> =>
  await tx.select({ id: runs.id, runLimitMs: runs.runLimitMs }).from(runs).where(and(inArray(runs.state, ['waiting', 'running']), sql`${runs.startedAt} + ${runs.runLimitMs} * interval '1 ms' < ${now}`)).for('update', { skipLocked: true })

export const setRunPaused = async (tx: Tx, runId: number, paused: boolean): Promise<boolean> =>
  (await tx.update(runs).set({ paused }).where(and(eq(runs.id, runId), inArray(runs.state, ['waiting', 'running'])))).rowCount === 1

/** Cancels what waits; what runs is told by heartbeat. @returns false when the run had ended already */
export async function cancelRun(tx: Tx, runId: number, now: Now, why?: string): Promise<boolean> {
  const changed = await tx.update(runs).set({ state: 'cancelling', ...(why !== undefined && { endedWhy: why }) }).where(and(eq(runs.id, runId), inArray(runs.state, ['waiting', 'running'])))
  if (changed.rowCount !== 1) return false
  await tx.update(caseRuns).set({ state: 'ended', outcome: 'cancelled', endedAt: sql`${now}` }).where(and(eq(caseRuns.runId, runId), eq(caseRuns.state, 'waiting')))
  await endRunIfDone(tx, runId, now)
  return true
}

const failureColumns = (failure: Partial<Failure> | undefined) => ({
  failureKind: failure?.kind ?? null, failureMessage: failure?.message ?? null, failurePath: failure?.path ?? null,
})

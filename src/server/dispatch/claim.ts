/** Gives seats their next work. */
import { randomUUID } from 'node:crypto'
import { isNeeded, seatRoles, type Work } from '@/core/execution'
import type { AgentRow } from '@/db/agents'
import {
  addAttempts,
  freeSeats,
  gather,
  putBack,
  seatsOf,
  takeAssigned,
  takeNextCaseRun,
  type AttemptRow,
  type CaseRunRow,
  type NewAttempt,
  type Taken,
} from '@/db/claim'
import type { Tx } from '@/db/client'
import { claimFast } from '@/db/fast-path'
import { beginRun } from '@/db/run-states'
import { endUnrun, releaseHolds, skipBehind } from '@/db/endings'
import { takeHandoffs } from '@/db/handoffs'
import type { Context } from '../context'
import { advanceRun, endAborted } from './finish'
import { workOf } from './work'

/** Two claims that want the same exclusive name at the same moment: one is undone and looks again. */
const CLASH_TRIES = 4
const UNIQUE_VIOLATION = '23505'

type Claimed = { caseRun: CaseRunRow; attempt: AttemptRow }
/** What could not be run, for what has to follow once that is committed. */
type Unrun = { caseRun: CaseRunRow; scopes: string[] }

/** Gives one free seat of the agent its next attempt, or `undefined` when nothing waits that it can serve.
 * @param wanted the seat that asks, where the agent says it */
export async function claimWork(ctx: Context, agent: AgentRow, wanted?: number): Promise<Work | undefined> {
  for (let i = 0; i < CLASH_TRIES; i++) {
    const unrun: Unrun[] = []
    try {
      const quick = await claimFast(ctx.connection.fastPath, {
        agentId: agent.id,
        seat: wanted,
        attemptId: randomUUID(),
        leaseMs: ctx.leaseMs,
        now: ctx.now,
      })
      if (quick === 'nothing') return undefined
      if (quick !== 'else') {
        notifyOfClaim(ctx, quick.caseRun)
        return await workOf(ctx, quick.caseRun, quick.attempt)
      }
      const claimed = await ctx.db.transaction((tx) => claimOnce(tx, ctx, agent, unrun))
      for (const { caseRun, scopes } of unrun) await advanceRun(ctx, caseRun, scopes)
      if (!claimed) return undefined
      if (claimed.attempt.told !== null)
        await endAborted(ctx, claimed.attempt) // it was over before its agent heard of it
      else return await workOf(ctx, claimed.caseRun, claimed.attempt)
    } catch (error) {
      if (!isClash(error)) throw error
    }
  }
  return undefined
}

async function claimOnce(
  tx: Tx,
  ctx: Context,
  agent: AgentRow,
  unrun: Unrun[],
): Promise<Claimed | undefined> {
  const seats = await seatsOf(tx, agent.id)
  if (!seats) return undefined
  if (seats.assigned !== null) return takeAssigned(tx, seats.assigned, ctx.now, ctx.leaseMs)
  const [seat] = freeOf(agent.seats, seats.used)
  if (seat === undefined) return undefined
  const here = { ...agent, pool: seats.pool }
  const id = randomUUID()
  let caseRun = await takeReady(tx, ctx, here, unrun, { attemptId: id, joint: true })
  if (caseRun && caseRun.roles.length > 0) {
    const seated = await seatJoint(tx, ctx, here, caseRun, id)
    if (seated === 'keep free') return undefined
    if (seated !== 'others first') return seated
    caseRun = await takeReady(tx, ctx, here, unrun, { attemptId: id, joint: false })
  }
  if (!caseRun) return undefined
  const [attempt] = await begin(tx, ctx, caseRun, [
    { id, caseRun, agentId: agent.id, agentName: agent.name, seat },
  ])
  return { caseRun, attempt: attempt! }
}

/** Every role gets a seat at once, or none does. While too few are free, those that are needed are kept free:
 * one joint case at a time, so that two never wait for each other. */
async function seatJoint(
  tx: Tx,
  ctx: Context,
  agent: AgentRow,
  caseRun: Taken,
  id: string,
): Promise<Claimed | 'keep free' | 'others first' | undefined> {
  const roles = caseRun.roles.map((role, i) => ({ role, environment: caseRun.roleEnvironments[i]! }))
  const free = await freeSeats(tx, {
    first: agent.name,
    pool: caseRun.runPool,
    only: caseRun.agent,
    environments: caseRun.roleEnvironments,
    aliveMs: ctx.leaseMs,
  })
  const seated = seatRoles(roles, free)
  if (seated.length < roles.length) {
    await putBack(tx, caseRun)
    return (await gather(tx, caseRun.id, ctx.now)) && isNeeded(agent.name, roles, free)
      ? 'keep free'
      : 'others first'
  }
  const used = new Map(free.map(({ agent: name, used: taken }) => [name, [...taken]]))
  const wanted = seated.map(({ role, agent: name }, i): NewAttempt => {
    const one = free.find((other) => other.agent === name)!
    const [seat] = freeOf(one.free + one.used.length, used.get(name)!)
    used.get(name)!.push(seat!)
    const own = name === agent.name && !seated.slice(0, i).some((other) => other.agent === name)
    return {
      id: i === 0 ? id : randomUUID(),
      caseRun,
      agentId: one.id,
      agentName: name,
      seat: seat!,
      role,
      state: own ? 'claimed' : 'assigned',
    }
  })
  const attempts = await begin(tx, ctx, caseRun, wanted)
  ctx.notifier.send('work')
  const attempt = attempts.find(({ state }) => state === 'claimed')
  return attempt && { caseRun, attempt }
}

const freeOf = (seats: number, used: readonly number[]): number[] =>
  Array.from({ length: seats }, (_, i) => i + 1).filter((n) => !used.includes(n))

async function begin(
  tx: Tx,
  ctx: Context,
  caseRun: Taken,
  wanted: readonly NewAttempt[],
): Promise<AttemptRow[]> {
  const attempts = await addAttempts(tx, wanted, ctx.now, ctx.leaseMs)
  if (caseRun.runState === 'waiting') await beginRun(tx, caseRun.runId, ctx.now)
  notifyOfClaim(ctx, caseRun)
  return attempts
}

function notifyOfClaim(ctx: Context, { runId }: Pick<CaseRunRow, 'runId'>): void {
  ctx.notifier.send('run', runId)
  ctx.notifier.send('fleet')
}

/** The next case run that has all it takes. One whose handoff was never given is not run, and says which one
 * is missing. */
async function takeReady(
  tx: Tx,
  ctx: Context,
  agent: AgentRow,
  unrun: Unrun[],
  which: { attemptId: string; joint: boolean },
): Promise<Taken | undefined> {
  for (;;) {
    const caseRun = await takeNextCaseRun(tx, agent, ctx.now, which)
    if (!caseRun || caseRun.needs.length === 0) return caseRun
    const given = await takeHandoffs(tx, caseRun)
    const missing = caseRun.needs.filter((name) => !(name in given))
    if (missing.length === 0) return caseRun
    await releaseHolds(tx, caseRun.id)
    await endUnrun(
      tx,
      caseRun.id,
      `it takes the handoff “${missing.join('”, “')}”, which was not given`,
      ctx.now,
    )
    unrun.push({ caseRun, scopes: [...caseRun.scopes, ...(await skipBehind(tx, caseRun, ctx.now))] })
  }
}

const isClash = (error: unknown) =>
  ((error as { cause?: { code?: string } }).cause?.code ?? (error as { code?: string }).code) ===
  UNIQUE_VIOLATION

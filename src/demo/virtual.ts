/** Runs the simulated fleet through the real dispatch, on a virtual clock: a night in seconds, and nothing
 * written that was not computed. */
import type { NumberedEvent, Work } from '@/core/execution'
import { runAttempt, type Piece } from '@/agent/interpreter'
import { virtualPace } from '@/agent/driver/port'
import { SimulatedDriver } from '@/agent/simulated/driver'
import type { PictureMaker } from '@/agent/simulated/pictures'
import type { AgentRow } from '@/db/agents'
import { at } from '@/db/moment'
import { knownEvidence } from '@/db/evidence'
import type { Context } from '@/server/context'
import { claimWork, finishAttempt, ingestEvents } from '@/server/dispatch'
import { keepEvidence } from '@/server/evidence'

type Claimed = { agent: AgentRow; since: number; work: Work }
type Done = { at: number; agent: AgentRow; work: Work; result: Awaited<ReturnType<typeof runAttempt>> }

/** Between the end of one attempt and the next claim of the same seat. */
const CLAIM_GAP_MS = 400
const LONG_LEASE_MS = 3_600_000

/** Attempts that end within this long of each other hand over together, and what follows them is carried out
 * at once. */
const TOGETHER_MS = 1500

/** Lets the fleet work from `from` until nothing is left to claim. @returns the moment the last attempt
 * ended */
export async function workThrough(
  ctx: Context,
  fleet: AgentRow[],
  from: Date,
  pictures: PictureMaker | undefined,
): Promise<Date> {
  const running: Done[] = []
  let claimed: Claimed[] = []
  let now = from.getTime()
  /** @returns whether there was something for this agent's free seat at that moment */
  const claim = async (agent: AgentRow, since: number): Promise<boolean> => {
    const work = await claimWork(virtual(ctx, since), agent)
    if (work) claimed.push({ agent, since, work })
    return work !== undefined
  }
  let idle = fleet.flatMap((agent) => Array.from({ length: agent.seats }, () => agent))
  for (;;) {
    const still: AgentRow[] = []
    for (const agent of idle) if (!(await claim(agent, now))) still.push(agent)
    running.push(...(await Promise.all(claimed.map((one) => carryOut(ctx, one, pictures)))))
    claimed = []
    running.sort((a, b) => a.at - b.at)
    const first = running[0]
    if (!first) return new Date(now)
    // In the order of time, each seat's end before its next claim: so no seat is ever given out twice.
    for (const { at: end, agent, work, result } of running.splice(
      0,
      running.findLastIndex((done) => done.at <= first.at + TOGETHER_MS) + 1,
    )) {
      now = end
      await finishAttempt(virtual(ctx, end), work, result)
      if (!(await claim(agent, end + CLAIM_GAP_MS))) still.push(agent)
    }
    idle = still
  }
}

const virtual = (ctx: Context, now: number): Context => ({
  ...ctx,
  now: at(new Date(now)),
  leaseMs: LONG_LEASE_MS,
})

async function carryOut(
  ctx: Context,
  { agent, work, since }: Claimed,
  pictures: PictureMaker | undefined,
): Promise<Done> {
  const pace = virtualPace()
  const events: NumberedEvent[] = []
  const pieces = new Map<string, Piece>()
  const driver = new SimulatedDriver({
    environment: work.environment,
    pace,
    seed: work.seed,
    screens: 'arrivals',
    ...(pictures && { pictures }),
  })
  const sink = {
    event: (event: NumberedEvent) => void events.push(event),
    evidence: (piece: Piece) => void pieces.set(piece.hash, piece),
  }
  const result = await runAttempt(work, {
    driver,
    pace,
    sink,
    agent: agent.name,
    signal: new AbortController().signal,
  })
  const known = await knownEvidence(ctx.db, [...pieces.keys()])
  for (const piece of pieces.values())
    if (!known.has(piece.hash)) await keepEvidence(ctx, piece.hash, piece.mime, piece.bytes)
  await ingestEvents(virtual(ctx, since), work, events)
  return { at: since + result.ms, agent, work, result }
}

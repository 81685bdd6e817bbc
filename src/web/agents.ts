/** The agent protocol, as docs/agent-protocol.md has it. */
import { context } from '@/server/context'
import { agentBodies, claimWork, finishAttempt, heartbeat, ingestEvents, meet, registerAgent } from '@/server/dispatch'
import { keepEvidence, missingEvidence } from '@/server/evidence'
import { noContent, readBody, readBytes, readUuid, type Asked } from '@/server/http/route'
import { keepScreen, liveHub } from '@/server/live'
import { requireAgent, requireToken } from '@/server/people'
import type { Route } from './serve'

/** Heartbeats in a lease: so many may be missed before an agent counts as lost. */
const BEATS_IN_A_LEASE = 6
/** A claim looks again at least this often: a note of new work may be missed while the listener reconnects. */
const LOOK_AGAIN_MS = 5000
/** A long video at its worst; a screen is a thousandth of it. */
const EVIDENCE_MOST_BYTES = 64_000_000
/** A small picture of a screen. */
const SCREEN_MOST_BYTES = 1_000_000

const ATTEMPT = '/api/agents/:id/attempts/:attempt'

export const agentRoutes: Route[] = [
  { method: 'POST', path: '/api/agents/register', async answer(asked) {
    const token = await requireToken(asked, 'agent')
    const agent = await registerAgent(context(), token, await readBody(asked, agentBodies.register))
    return Response.json({ id: agent.id, heartbeatMs: Math.round(context().leaseMs / BEATS_IN_A_LEASE) })
  } },
  { method: 'POST', path: '/api/agents/:id/claim', answer: claim },
  { method: 'POST', path: '/api/agents/:id/heartbeat', async answer(asked, { id }) {
    const agent = await requireAgent(asked, id!)
    return Response.json(await heartbeat(context(), agent, await readBody(asked, agentBodies.heartbeat)))
  } },
  { method: 'POST', path: '/api/agents/:id/evidence', async answer(asked, { id }) {
    await requireAgent(asked, id!)
    const { hashes } = await readBody(asked, agentBodies.missing)
    return Response.json({ missing: await missingEvidence(context(), hashes) })
  } },
  { method: 'PUT', path: '/api/agents/:id/evidence/:hash', async answer(asked, { id, hash }) {
    await requireAgent(asked, id!)
    await keepEvidence(context(), hash!, asked.headers.get('content-type') ?? '', await readBytes(asked, EVIDENCE_MOST_BYTES))
    return noContent()
  } },
  { method: 'POST', path: `${ATTEMPT}/events`, async answer(asked, { id, attempt }) {
    await requireAgent(asked, id!)
    const { lease, events } = await readBody(asked, agentBodies.events)
    await ingestEvents(context(), readUuid(attempt!), lease, events)
    return noContent()
  } },
  { method: 'POST', path: `${ATTEMPT}/finish`, async answer(asked, { id, attempt }) {
    const agent = await requireAgent(asked, id!)
    const { lease, result, events, next } = await readBody(asked, agentBodies.finish)
    await finishAttempt(context(), { attemptId: readUuid(attempt!), lease }, result, events)
    return next ? Response.json({ work: (await claimWork(context(), agent, next.seat)) ?? null }) : noContent()
  } },
  { method: 'POST', path: `${ATTEMPT}/meeting`, async answer(asked, { id, attempt }) {
    await requireAgent(asked, id!)
    return Response.json(await meet(context(), readUuid(attempt!), await readBody(asked, agentBodies.meeting), asked.signal))
  } },
  { method: 'PUT', path: `${ATTEMPT}/screen`, async answer(asked, { id, attempt }) {
    await requireAgent(asked, id!)
    await keepScreen(context(), readUuid(attempt!), asked.headers.get('content-type') ?? '', await readBytes(asked, SCREEN_MOST_BYTES))
    return noContent()
  } },
]

/** Long poll: answers with work as soon as there is some, or with none when the wait is over. */
async function claim(asked: Asked, { id }: Record<string, string>): Promise<Response> {
  const agent = await requireAgent(asked, id!)
  const { waitMs = 0, seat } = await readBody(asked, agentBodies.claim)
  const until = Date.now() + waitMs
  const hub = liveHub(context().connection.url)
  for (;;) {
    if (asked.signal.aborted) return Response.json({ work: null }) // nobody is there to take it
    const work = await claimWork(context(), agent, seat)
    const left = until - Date.now()
    if (work || left <= 0) return Response.json({ work: work ?? null })
    await hub.next('work', Math.min(left, LOOK_AGAIN_MS), asked.signal)
  }
}

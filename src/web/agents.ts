/** The agent protocol, as docs/agent-protocol.md has it. */
import { context } from '@/server/context'
import { Problem } from '@/server/http/problems'
import {
  agentBodies,
  claimWork,
  finishAttempt,
  heartbeat,
  ingestEvents,
  meet,
  registerAgent,
  requireHeld,
  type Hold,
} from '@/server/dispatch'
import { missingEvidence, receiveEvidence } from '@/server/evidence'
import { partsOf } from '@/server/http/body'
import { noContent, readAgentBody, readBytes, readUuid, type Asked } from '@/server/http/route'
import { keepScreen, liveHub } from '@/server/live'
import { requireAgent, requireToken } from '@/server/people'
import { Gate } from '@/server/work'
import type { Params, Route } from './serve'

/** Heartbeats in a lease: so many may be missed before an agent counts as lost. */
const BEATS_IN_A_LEASE = 6
/** A claim looks again at least this often: a note of new work may be missed while the listener
 * reconnects. */
const LOOK_AGAIN_MS = 5000
/** Pieces of evidence written at the same time, and those that may wait; agents retry what is refused. */
const uploads = new Gate(16, 200)
/** A small picture of a screen. */
const SCREEN_MOST_BYTES = 1_000_000

const ATTEMPT = '/api/agents/:id/attempts/:attempt'

export const agentRoutes: Route[] = [
  {
    method: 'POST',
    path: '/api/agents/register',
    async answer(asked) {
      const token = await requireToken(asked, 'agent')
      const agent = await registerAgent(context(), token, await readAgentBody(asked, agentBodies.register))
      return Response.json({ id: agent.id, heartbeatMs: Math.round(context().leaseMs / BEATS_IN_A_LEASE) })
    },
  },
  { method: 'POST', path: '/api/agents/:id/claim', answer: claim },
  {
    method: 'POST',
    path: '/api/agents/:id/heartbeat',
    async answer(asked, { id }) {
      const agent = await requireAgent(asked, id!)
      return Response.json(
        await heartbeat(context(), agent, await readAgentBody(asked, agentBodies.heartbeat)),
      )
    },
  },
  {
    method: 'POST',
    path: `${ATTEMPT}/evidence`,
    async answer(asked, params) {
      const agentId = await agentIdOf(asked, params)
      const { lease, hashes } = await readAgentBody(asked, agentBodies.missing)
      await requireHeld(context(), holdOf(agentId, params, lease))
      return Response.json({ missing: await missingEvidence(context(), hashes) })
    },
  },
  {
    method: 'PUT',
    path: `${ATTEMPT}/evidence/:hash`,
    async answer(asked, params) {
      await requireHeld(context(), holdOf(await agentIdOf(asked, params), params, leaseIn(asked)))
      const mime = asked.headers.get('content-type') ?? ''
      await uploads.through(() => receiveEvidence(context(), params.hash!, mime, partsOf(asked.body)))
      return noContent()
    },
  },
  {
    method: 'POST',
    path: `${ATTEMPT}/events`,
    async answer(asked, params) {
      const agentId = await agentIdOf(asked, params)
      const { lease, events } = await readAgentBody(asked, agentBodies.events)
      await ingestEvents(context(), holdOf(agentId, params, lease), events)
      return noContent()
    },
  },
  {
    method: 'POST',
    path: `${ATTEMPT}/finish`,
    async answer(asked, params) {
      const agent = await requireAgent(asked, params.id!)
      const { lease, result, events, next } = await readAgentBody(asked, agentBodies.finish)
      await finishAttempt(context(), holdOf(agent.id, params, lease), result, events)
      return next
        ? Response.json({ work: (await claimWork(context(), agent, next.seat)) ?? null })
        : noContent()
    },
  },
  {
    method: 'POST',
    path: `${ATTEMPT}/meeting`,
    async answer(asked, params) {
      const agentId = await agentIdOf(asked, params)
      const { lease, ...meeting } = await readAgentBody(asked, agentBodies.meeting)
      return Response.json(await meet(context(), holdOf(agentId, params, lease), meeting, asked.signal))
    },
  },
  {
    method: 'PUT',
    path: `${ATTEMPT}/screen`,
    async answer(asked, params) {
      const hold = holdOf(await agentIdOf(asked, params), params, leaseIn(asked))
      await requireHeld(context(), hold)
      await keepScreen(
        context(),
        hold,
        asked.headers.get('content-type') ?? '',
        await readBytes(asked, SCREEN_MOST_BYTES),
      )
      return noContent()
    },
  },
]

const agentIdOf = async (asked: Asked, { id }: Params): Promise<string> => (await requireAgent(asked, id!)).id

/** Agent, attempt and lease of a request: every use case checks that the agent still holds the attempt. */
const holdOf = (agentId: string, { attempt }: Params, lease: number): Hold => ({
  agentId,
  attemptId: readUuid(attempt!),
  lease,
})

/** Bytes carry the lease in their address. @throws {Problem} BODY_INVALID */
function leaseIn({ url }: Asked): number {
  const lease = new URL(url).searchParams.get('lease') ?? ''
  if (!/^\d{1,9}$/.test(lease)) throw new Problem('BODY_INVALID', 'The lease is missing: …?lease=N.')
  return Number(lease)
}

/** Long poll: answers with work as soon as there is some, or with none when the wait is over. */
async function claim(asked: Asked, { id }: Record<string, string>): Promise<Response> {
  const agent = await requireAgent(asked, id!)
  const { waitMs = 0, seat } = await readAgentBody(asked, agentBodies.claim)
  const until = Date.now() + waitMs
  const hub = liveHub(context().connection.url)
  for (;;) {
    if (asked.signal.aborted) return Response.json({ work: null }) // the agent has disconnected
    const work = await claimWork(context(), agent, seat)
    const left = until - Date.now()
    if (work || left <= 0) return Response.json({ work: work ?? null })
    await hub.next('work', Math.min(left, LOOK_AGAIN_MS), asked.signal)
  }
}

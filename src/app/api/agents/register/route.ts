import { context } from '@/server/context'
import { agentBodies, registerAgent } from '@/server/dispatch'
import { readBody, route } from '@/server/http/route'
import { requireToken } from '@/server/people'

/** Heartbeats in a lease: so many may be missed before an agent counts as lost. */
const BEATS_IN_A_LEASE = 6

export const POST = route(async (request) => {
  const token = await requireToken(request, 'agent')
  const agent = await registerAgent(context(), token, await readBody(request, agentBodies.register))
  return Response.json({ id: agent.id, heartbeatMs: Math.round(context().leaseMs / BEATS_IN_A_LEASE) })
})

import { context } from '@/server/context'
import { agentBodies, heartbeat } from '@/server/dispatch'
import { readBody, route } from '@/server/http/route'
import { requireAgent } from '@/server/people'

export const POST = route<{ id: string }>(async (request, { id }) => {
  const agent = await requireAgent(request, id)
  const { attempts } = await readBody(request, agentBodies.heartbeat)
  return Response.json(await heartbeat(context(), agent, attempts))
})

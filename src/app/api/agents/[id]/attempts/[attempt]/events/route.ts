import { context } from '@/server/context'
import { agentBodies, ingestEvents } from '@/server/dispatch'
import { noContent, readBody, readUuid, route } from '@/server/http/route'
import { requireAgent } from '@/server/people'

export const POST = route<{ id: string; attempt: string }>(async (request, { id, attempt }) => {
  await requireAgent(request, id)
  const { lease, events } = await readBody(request, agentBodies.events)
  await ingestEvents(context(), readUuid(attempt), lease, events)
  return noContent()
})

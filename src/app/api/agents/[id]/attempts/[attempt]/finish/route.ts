import { context } from '@/server/context'
import { agentBodies, finishAttempt } from '@/server/dispatch'
import { noContent, readBody, readUuid, route } from '@/server/http/route'
import { requireAgent } from '@/server/people'

export const POST = route<{ id: string; attempt: string }>(async (request, { id, attempt }) => {
  await requireAgent(request, id)
  const { lease, result } = await readBody(request, agentBodies.finish)
  await finishAttempt(context(), { attemptId: readUuid(attempt), lease }, result)
  return noContent()
})

import { context } from '@/server/context'
import { agentBodies } from '@/server/dispatch'
import { missingEvidence } from '@/server/evidence'
import { readBody, route } from '@/server/http/route'
import { requireAgent } from '@/server/people'

/** Which of these hashes are not in the store yet. */
export const POST = route<{ id: string }>(async (request, { id }) => {
  await requireAgent(request, id)
  const { hashes } = await readBody(request, agentBodies.missing)
  return Response.json({ missing: await missingEvidence(context(), hashes) })
})

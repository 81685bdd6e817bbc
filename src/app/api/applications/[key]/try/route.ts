import { tryApplication } from '@/server/applications'
import { context } from '@/server/context'
import { route } from '@/server/http/route'
import { requireRole } from '@/server/people'

/** Whether it answers now, at each of its addresses. */
export const POST = route<{ key: string }>(async (request, { key }) => {
  await requireRole(request, 'coordinator')
  return Response.json(await tryApplication(context(), key))
})

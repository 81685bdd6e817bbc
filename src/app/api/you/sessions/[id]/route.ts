import { context } from '@/server/context'
import { noContent, route } from '@/server/http/route'
import { endOwnSessions, requireRole } from '@/server/people'

export const DELETE = route<{ id: string }>(async (request, { id }) => {
  await endOwnSessions(context(), await requireRole(request, 'viewer'), id)
  return noContent()
})

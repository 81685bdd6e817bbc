import { context } from '@/server/context'
import { noContent, route } from '@/server/http/route'
import { endOwnSessions, requireRole } from '@/server/people'

/** Ends all but this one. */
export const DELETE = route(async (request) => {
  await endOwnSessions(context(), await requireRole(request, 'viewer'))
  return noContent()
})

import { context } from '@/server/context'
import { newTrackerSecret } from '@/server/defects'
import { route } from '@/server/http/route'
import { requireRole } from '@/server/people'

/** Makes the secret that the tracker signs its messages with; it is told this once. */
export const POST = route(async (request) => {
  const person = await requireRole(request, 'admin')
  return Response.json({ secret: await newTrackerSecret(context(), person.name) }, { status: 201 })
})

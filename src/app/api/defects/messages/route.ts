import { context } from '@/server/context'
import { sayAllBody, sayOfAll } from '@/server/defects'
import { readBody, route } from '@/server/http/route'
import { requireRole } from '@/server/people'

/** The same words to many, at the tracker. */
export const POST = route(async (request) => {
  const person = await requireRole(request, 'tester')
  return Response.json(await sayOfAll(context(), await readBody(request, sayAllBody), person.name))
})

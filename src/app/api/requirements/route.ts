import { context } from '@/server/context'
import { readBody, route } from '@/server/http/route'
import { requirePerson, requireRole } from '@/server/people'
import { listBody, serveRequirements, takeRequirements } from '@/server/requirements'

/** The list as a file. */
export const GET = route(async (request) => {
  await requirePerson(request)
  return serveRequirements(context(), new URL(request.url).searchParams.get('as'))
})

/** Another list in place of it, or what that would change. */
export const PUT = route(async (request) => {
  const person = await requireRole(request, 'coordinator')
  return Response.json(await takeRequirements(context(), await readBody(request, listBody), person.name))
})

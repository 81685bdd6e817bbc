import { context } from '@/server/context'
import { noContent, readBody, route } from '@/server/http/route'
import { requireRole } from '@/server/people'
import { environmentsBody, putEnvironments } from '@/server/environments'

/** All environments at once, in their order. */
export const PUT = route(async (request) => {
  const person = await requireRole(request, 'coordinator')
  await putEnvironments(context(), await readBody(request, environmentsBody), person.name)
  return noContent()
})

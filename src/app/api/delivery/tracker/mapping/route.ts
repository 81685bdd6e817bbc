import { context } from '@/server/context'
import { mappingBody, putTrackerMapping } from '@/server/defects'
import { noContent, readBody, route } from '@/server/http/route'
import { requireRole } from '@/server/people'

/** How the tracker names states, severities and further fields. */
export const PUT = route(async (request) => {
  const person = await requireRole(request, 'admin')
  await putTrackerMapping(context(), await readBody(request, mappingBody), person.name)
  return noContent()
})

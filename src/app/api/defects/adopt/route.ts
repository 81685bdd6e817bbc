import { context } from '@/server/context'
import { adoptBody, adoptIssue } from '@/server/defects'
import { readBody, route } from '@/server/http/route'
import { requireRole } from '@/server/people'

/** A failure is an issue that the tracker has. */
export const POST = route(async (request) => {
  const person = await requireRole(request, 'tester')
  return Response.json(await adoptIssue(context(), await readBody(request, adoptBody), person.name))
})

import { context } from '@/server/context'
import { sendAll, sendAllBody } from '@/server/defects'
import { readBody, route } from '@/server/http/route'
import { requireRole } from '@/server/people'

/** Many at once. */
export const POST = route(async (request) => {
  const person = await requireRole(request, 'tester')
  const { ids } = await readBody(request, sendAllBody)
  return Response.json(await sendAll(context(), ids, person.name))
})

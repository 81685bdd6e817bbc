import { randomUUID } from 'node:crypto'
import { context } from '@/server/context'
import { mappingBody, tryMapping } from '@/server/defects'
import { readBody, route } from '@/server/http/route'
import { requireRole } from '@/server/people'

/** Sends an example by this mapping, and keeps nothing. */
export const POST = route(async (request) => {
  const person = await requireRole(request, 'admin')
  const said = await tryMapping(context(), await readBody(request, mappingBody), {
    key: `oak-example-${randomUUID()}`,
    person: person.name,
  })
  return Response.json({ said })
})

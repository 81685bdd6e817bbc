import { context } from '@/server/context'
import { addRepository, repositoryBody } from '@/server/definitions'
import { readBody, route } from '@/server/http/route'
import { requireRole } from '@/server/people'

export const POST = route(async (request) => {
  const person = await requireRole(request, 'admin')
  return Response.json(await addRepository(context(), await readBody(request, repositoryBody), person.name), {
    status: 201,
  })
})

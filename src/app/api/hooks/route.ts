import { context } from '@/server/context'
import { readBody, route } from '@/server/http/route'
import { requireRole } from '@/server/people'
import { hookBody, makeHook } from '@/server/triggers'

/** An address that is told what happens to runs. The secret is in this answer and nowhere else. */
export const POST = route(async (request) => {
  const person = await requireRole(request, 'admin')
  return Response.json(await makeHook(context(), await readBody(request, hookBody), person.name), {
    status: 201,
  })
})

import { context } from '@/server/context'
import { readBody, route } from '@/server/http/route'
import { requireRole } from '@/server/people'
import { setApart, splitBody } from '@/server/triage'

/** A part of a cause is one of its own from now on. */
export const POST = route(async (request) => {
  const person = await requireRole(request, 'tester')
  const made = await setApart(context(), await readBody(request, splitBody), person.name)
  return Response.json(made, { status: 201 })
})

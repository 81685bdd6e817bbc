import { context } from '@/server/context'
import { readBody, route } from '@/server/http/route'
import { requireRole } from '@/server/people'
import { startBody, startRun } from '@/server/runs'

export const POST = route(async (request) => {
  const person = await requireRole(request, 'tester')
  const id = await startRun(context(), await readBody(request, startBody), person.name)
  return Response.json({ id }, { status: 201 })
})

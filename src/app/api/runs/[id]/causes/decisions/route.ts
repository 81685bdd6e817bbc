import { context } from '@/server/context'
import { readBody, readNumber, route } from '@/server/http/route'
import { requireRole } from '@/server/people'
import { decideBody, decideCauses } from '@/server/triage'

export const POST = route<{ id: string }>(async (request, { id }) => {
  const person = await requireRole(request, 'tester')
  const body = await readBody(request, decideBody)
  const ids = await decideCauses(context(), readNumber(id), body, person.name)
  return Response.json({ ids }, { status: 201 })
})

import { context } from '@/server/context'
import { readNumber, route } from '@/server/http/route'
import { requireRole } from '@/server/people'
import { startAgain } from '@/server/runs'

export const POST = route<{ id: string }>(async (request, { id }) => {
  const person = await requireRole(request, 'tester')
  return Response.json({ id: await startAgain(context(), readNumber(id), person.name) }, { status: 201 })
})

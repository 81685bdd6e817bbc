import { context } from '@/server/context'
import { readNumber, route } from '@/server/http/route'
import { requireRole } from '@/server/people'
import { takeApart } from '@/server/triage'

export const DELETE = route<{ id: string }>(async (request, { id }) => {
  const person = await requireRole(request, 'tester')
  await takeApart(context(), readNumber(id), person.name)
  return new Response(null, { status: 204 })
})

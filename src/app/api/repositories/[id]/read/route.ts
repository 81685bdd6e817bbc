import { context } from '@/server/context'
import { readRepository } from '@/server/definitions'
import { readNumber, route } from '@/server/http/route'
import { requireRole } from '@/server/people'

export const POST = route<{ id: string }>(async (request, { id }) => {
  await requireRole(request, 'tester')
  return Response.json(await readRepository(context(), readNumber(id)))
})

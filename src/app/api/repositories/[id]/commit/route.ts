import { context } from '@/server/context'
import { commitBody, commitEdits } from '@/server/definitions'
import { readBody, readNumber, route } from '@/server/http/route'
import { requireRole } from '@/server/people'

export const POST = route<{ id: string }>(async (request, { id }) => {
  const person = await requireRole(request, 'tester')
  return Response.json(
    await commitEdits(context(), readNumber(id), await readBody(request, commitBody), person),
    { status: 201 },
  )
})

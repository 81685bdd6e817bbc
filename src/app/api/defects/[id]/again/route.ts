import { context } from '@/server/context'
import { againBody, seenAgain } from '@/server/defects'
import { readBody, readNumber, route } from '@/server/http/route'
import { requireRole } from '@/server/people'

/** A failure is this defect once more. */
export const POST = route<{ id: string }>(async (request, { id }) => {
  const person = await requireRole(request, 'tester')
  return Response.json(
    await seenAgain(context(), readNumber(id), await readBody(request, againBody), person.name),
  )
})

import { context } from '@/server/context'
import { noContent, readNumber, route } from '@/server/http/route'
import { requireRole } from '@/server/people'
import { putBack } from '@/server/triage'

export const DELETE = route<{ id: string }>(async (request, { id }) => {
  const person = await requireRole(request, 'tester')
  await putBack(context(), readNumber(id), person.name)
  return noContent()
})

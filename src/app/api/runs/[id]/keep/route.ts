import { context } from '@/server/context'
import { noContent, readNumber, route } from '@/server/http/route'
import { requireRole } from '@/server/people'
import { keepRun } from '@/server/runs'

export const POST = route<{ id: string }>(async (request, { id }) => {
  const person = await requireRole(request, 'tester')
  await keepRun(context(), readNumber(id), person.name)
  return noContent()
})

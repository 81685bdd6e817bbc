import { context } from '@/server/context'
import { noContent, readBody, readNumber, route } from '@/server/http/route'
import { requireRole } from '@/server/people'
import { cancelBody, cancelRun } from '@/server/runs'

export const POST = route<{ id: string }>(async (request, { id }) => {
  const person = await requireRole(request, 'tester')
  await cancelRun(context(), readNumber(id), person.name, await readBody(request, cancelBody))
  return noContent()
})

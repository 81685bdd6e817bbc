import { context } from '@/server/context'
import { pinAttempt } from '@/server/evidence'
import { noContent, readUuid, route } from '@/server/http/route'
import { requireRole } from '@/server/people'

export const PUT = route<{ id: string }>(async (request, { id }) => {
  const person = await requireRole(request, 'tester')
  await pinAttempt(context(), readUuid(id), true, person.name)
  return noContent()
})

export const DELETE = route<{ id: string }>(async (request, { id }) => {
  const person = await requireRole(request, 'tester')
  await pinAttempt(context(), readUuid(id), false, person.name)
  return noContent()
})

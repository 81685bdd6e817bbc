import { context } from '@/server/context'
import { noContent, route } from '@/server/http/route'
import { requireRole, revoke } from '@/server/people'

export const DELETE = route<{ id: string }>(async (request, { id }) => {
  const person = await requireRole(request, 'coordinator')
  await revoke(context(), id, person.name)
  return noContent()
})

import { context } from '@/server/context'
import { noContent, route } from '@/server/http/route'
import { requireRole } from '@/server/people'
import { removeHook } from '@/server/triggers'

export const DELETE = route<{ id: string }>(async (request, { id }) => {
  const person = await requireRole(request, 'admin')
  await removeHook(context(), id, person.name)
  return noContent()
})

import { context } from '@/server/context'
import { unmarkScreen } from '@/server/evidence'
import { noContent, readUuid, route } from '@/server/http/route'
import { requireRole } from '@/server/people'

export const DELETE = route<{ id: string; marked: string }>(async (request, { id, marked }) => {
  const person = await requireRole(request, 'tester')
  await unmarkScreen(context(), readUuid(id), readUuid(marked), person.name)
  return noContent()
})

import { context } from '@/server/context'
import { noContent, readBody, route } from '@/server/http/route'
import { changePerson, memberChangeBody, requireRole } from '@/server/people'

export const PATCH = route<{ id: string }>(async (request, { id }) => {
  const person = await requireRole(request, 'admin')
  await changePerson(context(), id, await readBody(request, memberChangeBody), person)
  return noContent()
})

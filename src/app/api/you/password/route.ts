import { context } from '@/server/context'
import { noContent, readBody, route } from '@/server/http/route'
import { changeOwnPassword, passwordBody, requireRole } from '@/server/people'

export const PUT = route(async (request) => {
  const person = await requireRole(request, 'viewer')
  await changeOwnPassword(context(), person, await readBody(request, passwordBody))
  return noContent()
})

import { context } from '@/server/context'
import { ownersBody, putOwnerRules } from '@/server/defects'
import { noContent, readBody, route } from '@/server/http/route'
import { requireRole } from '@/server/people'

/** Who answers for defects: all rules, in their order. */
export const PUT = route(async (request) => {
  const person = await requireRole(request, 'admin')
  await putOwnerRules(context(), (await readBody(request, ownersBody)).rules, person.name)
  return noContent()
})

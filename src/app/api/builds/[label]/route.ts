import { removeBuild } from '@/server/builds'
import { context } from '@/server/context'
import { noContent, route } from '@/server/http/route'
import { requireRole } from '@/server/people'

export const DELETE = route<{ label: string }>(async (request, { label }) => {
  const person = await requireRole(request, 'coordinator')
  await removeBuild(context(), label, person.name)
  return noContent()
})

import { context } from '@/server/context'
import { removeTracker, setTracker, trackerBody } from '@/server/defects'
import { noContent, readBody, route } from '@/server/http/route'
import { requireRole } from '@/server/people'

export const PUT = route(async (request) => {
  const person = await requireRole(request, 'admin')
  await setTracker(context(), await readBody(request, trackerBody), person.name)
  return noContent()
})

export const DELETE = route(async (request) => {
  const person = await requireRole(request, 'admin')
  await removeTracker(context(), person.name)
  return noContent()
})

import { context } from '@/server/context'
import { noContent, readBody, route } from '@/server/http/route'
import { requireRole } from '@/server/people'
import { endQuarantine, quarantine, quarantineBody } from '@/server/recovery'

export const PUT = route<{ case: string }>(async (request, { case: key }) => {
  const person = await requireRole(request, 'coordinator')
  await quarantine(context(), key, await readBody(request, quarantineBody), person.name)
  return noContent()
})

export const DELETE = route<{ case: string }>(async (request, { case: key }) => {
  const person = await requireRole(request, 'coordinator')
  await endQuarantine(context(), key, person.name)
  return noContent()
})

import { context } from '@/server/context'
import { noContent, readBody, route } from '@/server/http/route'
import { requireRole } from '@/server/people'
import { removeSecret, secretBody, setSecret } from '@/server/secrets'

export const PUT = route<{ name: string }>(async (request, { name }) => {
  const person = await requireRole(request, 'coordinator')
  await setSecret(context(), name, await readBody(request, secretBody), person.name)
  return noContent()
})

export const DELETE = route<{ name: string }>(async (request, { name }) => {
  const person = await requireRole(request, 'coordinator')
  await removeSecret(context(), name, person.name)
  return noContent()
})

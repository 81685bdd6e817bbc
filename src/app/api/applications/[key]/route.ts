import { applicationBody, removeApplication, setApplication } from '@/server/applications'
import { context } from '@/server/context'
import { noContent, readBody, route } from '@/server/http/route'
import { requireRole } from '@/server/people'

type Params = { key: string }

export const PUT = route<Params>(async (request, { key }) => {
  const person = await requireRole(request, 'coordinator')
  await setApplication(context(), key, await readBody(request, applicationBody), person.name)
  return noContent()
})

export const DELETE = route<Params>(async (request, { key }) => {
  const person = await requireRole(request, 'coordinator')
  await removeApplication(context(), key, person.name)
  return noContent()
})

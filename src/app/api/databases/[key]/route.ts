import { context } from '@/server/context'
import { databaseBody, removeDatabase, setDatabase } from '@/server/databases'
import { noContent, readBody, route } from '@/server/http/route'
import { requireRole } from '@/server/people'

export const PUT = route<{ key: string }>(async (request, { key }) => {
  const person = await requireRole(request, 'admin')
  await setDatabase(context(), key, (await readBody(request, databaseBody)).url, person.name)
  return noContent()
})

export const DELETE = route<{ key: string }>(async (request, { key }) => {
  const person = await requireRole(request, 'admin')
  await removeDatabase(context(), key, person.name)
  return noContent()
})

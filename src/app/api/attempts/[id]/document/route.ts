import { context } from '@/server/context'
import { readUuid, route } from '@/server/http/route'
import { requirePerson } from '@/server/people'
import { serveDocument } from '@/server/reports/document'

export const GET = route<{ id: string }>(async (request, { id }) => {
  const person = await requirePerson(request)
  return serveDocument(context(), readUuid(id), person.name)
})

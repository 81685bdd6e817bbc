import { context } from '@/server/context'
import { readUuid, route } from '@/server/http/route'
import { requirePerson } from '@/server/people'
import { serveBundle } from '@/server/reports/bundle'

/** All attempts of the case run of this one, as a zip that works from disk. */
export const GET = route<{ id: string }>(async (request, { id }) => {
  const person = await requirePerson(request)
  return serveBundle(context(), readUuid(id), person.name)
})

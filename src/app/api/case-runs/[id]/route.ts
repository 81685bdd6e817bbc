import { context } from '@/server/context'
import { readUuid, route } from '@/server/http/route'
import { requirePerson } from '@/server/people'
import { importedSight } from '@/server/sights'

/** What a result file said of a case run that was made elsewhere. */
export const GET = route<{ id: string }>(async (request, { id }) => {
  await requirePerson(request)
  return Response.json(await importedSight(context(), readUuid(id)))
})

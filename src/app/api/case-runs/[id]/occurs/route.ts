import { context } from '@/server/context'
import { occursViewModel } from '@/server/defects'
import { readUuid, route } from '@/server/http/route'
import { requirePerson } from '@/server/people'

/** Where a case run fails, and since when. */
export const GET = route<{ id: string }>(async (request, { id }) => {
  await requirePerson(request)
  return Response.json(await occursViewModel(context(), readUuid(id)))
})

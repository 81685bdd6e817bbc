import { context } from '@/server/context'
import { readUuid, route } from '@/server/http/route'
import { requirePerson } from '@/server/people'
import { importedViewModel } from '@/server/view-models'

/** What a result file said of a case run that was made elsewhere. */
export const GET = route<{ id: string }>(async (request, { id }) => {
  await requirePerson(request)
  return Response.json(await importedViewModel(context(), readUuid(id)))
})
